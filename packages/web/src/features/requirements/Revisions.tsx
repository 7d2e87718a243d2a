import type { RequirementDetail } from '@dystracer/core/requirements/wire'
import { Suspense, useState } from 'react'
import { Redline } from '#features/history/index'
import { usePeople } from '#features/people/index'
import { Button, SectionHead, When } from '#shared/ui/parts'

/** The texts that a requirement had, each with what it changed of the one before and why. */
export function Revisions({ data }: { data: RequirementDetail }) {
  const { nameOf } = usePeople()
  const [open, setOpen] = useState<number | null>(null)
  if (data.revisions.length < 2) return null
  return (
    <section aria-label="Revisions" className="border-t border-edge px-4 py-3">
      <SectionHead>Stood as</SectionHead>
      <ol className="m-0 list-none p-0">
        {data.revisions.map((revision, at) => {
          const before = data.revisions[at + 1]
          return (
            <li key={revision.revision} className="border-b border-edge-soft py-1 last:border-0">
              <span className="mr-2 font-mono text-[12px]">{revision.revision}</span>
              {at === 0 ? 'now, ' : ''}by {nameOf(revision.by)} <When atMs={revision.atMs} />
              {revision.isMinor && <span className="text-ink-2">, spelling alone</span>}
              {revision.because && <span className="text-ink-2">, because: {revision.because}</span>}
              {before && (
                <Button
                  look="line"
                  className="ml-2"
                  aria-expanded={open === revision.revision}
                  aria-label={`What changed in revision ${revision.revision}`}
                  onClick={() => setOpen(open === revision.revision ? null : revision.revision)}
                >
                  what changed
                </Button>
              )}
              {open === revision.revision && before && (
                <Suspense fallback={<p className="text-ink-2">Reading …</p>}>
                  <div className="font-serif text-[15px]">
                    {before.title !== revision.title && <Redline before={before.title} after={revision.title} />}
                    <Redline before={before.text} after={revision.text} />
                  </div>
                </Suspense>
              )}
            </li>
          )
        })}
      </ol>
    </section>
  )
}

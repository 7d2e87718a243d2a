import type { RequirementDetail } from '@dystracer/core/requirements/wire'
import { Suspense } from 'react'
import { toast } from 'sonner'
import { Redline } from '#features/history/index'
import { useLogItemMutation } from '#features/items/items.api'
import { usePeople } from '#features/people/index'
import { problemText } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Button, SectionHead } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useConfirmLinksMutation } from './requirements.api'

type Tied = RequirementDetail['items'][number]

/** Ties that were made for an older text, with what changed since: does each still hold? */
export function MadeForOlder({ data }: { data: RequirementDetail }) {
  const { may } = usePeople()
  const [confirm, { isLoading }] = useConfirmLinksMutation()
  const tied = data.items.filter((item) => item.isSuspect)
  if (tied.length === 0) return null
  const hold = async (items: readonly Tied[]) => {
    const result = await confirm({ key: data.key, linkIds: items.map((item) => item.linkId) })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(
      items.length === 1
        ? `${items[0]?.key} holds for revision ${data.revision}`
        : `${items.length} ties hold for revision ${data.revision}`,
      {
        action: { label: 'Take back', onClick: () => void takeBack(items) },
      },
    )
  }
  const takeBack = async (items: readonly Tied[]) => {
    for (const item of items) {
      const result = await confirm({ key: data.key, linkIds: [item.linkId], revision: item.madeForRevision ?? data.revision })
      if (result.error) return void toast.error(problemText(result.error))
    }
  }
  const oldest = Math.min(...tied.map((item) => item.madeForRevision ?? data.revision))
  const before = data.revisions.find((revision) => revision.revision === oldest)
  const newest = data.revisions[0]
  return (
    <section aria-label="Made for an older text" className="border-t border-edge px-4 py-3">
      <SectionHead>Made for an older text: does it still hold?</SectionHead>
      {before && (
        <Suspense fallback={<p className="text-ink-2">Reading …</p>}>
          <div className="font-serif text-[15px]">
            <Redline before={before.text} after={data.text} />
          </div>
        </Suspense>
      )}
      {newest?.because && <p className="mt-1 text-ink-2">Because: {newest.because}</p>}
      <ul className="m-0 mt-1 list-none p-0">
        {tied.map((item) => (
          <li key={item.linkId} className="flex items-center gap-2.5 border-b border-edge-soft py-1 last:border-0">
            <span aria-hidden="true" className="h-[3px] w-[18px] shrink-0 bg-ochre" />
            <ThingLink to={{ kind: 'item', id: item.key }} />
            <span className="min-w-0 flex-1 truncate">{item.title}</span>
            <span className="shrink-0 text-[12px] text-ink-2">for revision {item.madeForRevision}</span>
            {may('items.change') && (
              <>
                <Button look="line" disabled={isLoading} aria-label={`${item.key} holds`} onClick={() => void hold([item])}>
                  holds
                </Button>
                <LogWork data={data} item={item} />
              </>
            )}
          </li>
        ))}
      </ul>
      {tied.length > 1 && may('items.change') && (
        <Button look="line" className="mt-1" disabled={isLoading} onClick={() => void hold(tied)}>
          All {tied.length} hold
        </Button>
      )}
    </section>
  )
}

/** Work that brings what was made for the older text up to the newer one. */
function LogWork({ data, item }: { data: RequirementDetail; item: Tied }) {
  const trail = usePaneTrail()
  const [log, { isLoading }] = useLogItemMutation()
  const submit = async () => {
    const result = await log({
      input: {
        title: `Bring ${item.key} up to revision ${data.revision} of ${data.key}`.slice(0, 200),
        type: 'task',
        requirement: data.key,
        description:
          `${data.key} says now:\n\n> ${data.text.replaceAll('\n', '\n> ')}\n\n${item.key} was made for ` +
          `revision ${item.madeForRevision ?? 'before'}.`,
      },
      idempotencyKey: crypto.randomUUID(),
    })
    if (result.error) return void toast.error(problemText(result.error))
    trail.open({ kind: 'item', id: result.data.key })
  }
  return (
    <Button look="line" disabled={isLoading} aria-label={`Log work for ${item.key}`} onClick={() => void submit()}>
      log work
    </Button>
  )
}

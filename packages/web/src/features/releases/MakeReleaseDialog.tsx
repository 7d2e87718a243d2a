import type { NextRelease } from '@dystracer/core/releases/contents-wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { plural } from '#shared/lib/format'
import { fieldProblem } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, Pending, Refusal, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useMakeReleaseMutation, useNextReleaseQuery } from './releases.api'

const DOUBT_WORDS: Record<NextRelease['doubts'][number]['why'], string> = {
  blocked: 'is blocked',
  contradicted: 'is contradicted by what is known of it',
  'without-requirement': 'was asked for by nothing',
  'broken-build': 'The newest build of this commit broke.',
  'no-build': 'No build of this commit was reported.',
}

/** A release of what the main line holds now, or of another commit: what would be in it, what speaks against it, and its tag. */
export function MakeReleaseDialog({ service, onClose }: { service: string; onClose: () => void }) {
  const [of, setOf] = useState('')
  const { data, error, isLoading } = useNextReleaseQuery({ service, ...(of !== '' && { of }) })
  return (
    <Dialog title={`A new release of ${service}`} isOpen onClose={onClose}>
      <Pending error={error} isLoading={isLoading} />
      {data && data.tip === null && <p className="px-4 py-4 text-ink-2">The main line of {data.repository} has not been read yet.</p>}
      {data?.tip && <MakeForm key={data.tip.sha} next={data} tip={data.tip} onOf={setOf} onClose={onClose} />}
    </Dialog>
  )
}

function MakeForm({
  next,
  tip,
  onOf,
  onClose,
}: {
  next: NextRelease
  tip: NonNullable<NextRelease['tip']>
  /** Looks at another commit. */
  onOf: (sha: string) => void
  onClose: () => void
}) {
  const trail = usePaneTrail()
  const [make, { error, isLoading }] = useMakeReleaseMutation()
  const { register, handleSubmit, setValue, watch } = useForm({ defaultValues: { name: next.names[0] ?? '' } })
  const name = watch('name')
  const submit = handleSubmit(async (values) => {
    const result = await make({ service: next.service, name: values.name.trim(), sha: tip.sha })
    if (result.error) return
    toast.success(`${next.service} ${values.name.trim()} is made`)
    onClose()
    trail.open({ kind: 'release', id: `${next.service}@${values.name.trim()}` })
  })
  return (
    <form aria-label="New release" className="max-h-[70vh] space-y-3 overflow-y-auto px-4 py-3" onSubmit={(event) => void submit(event)}>
      <Field label="Made of">
        <Choose value={tip.sha} choices={choicesOf(next, tip)} onChange={(event) => onOf(event.target.value)} />
      </Field>
      <p>
        <ThingLink to={{ kind: 'commit', id: `${next.repository}/${tip.sha}` }} /> {tip.subject}, <When atMs={tip.atMs} />
        {next.latest !== null && next.commits > 0 && `; ${plural(next.commits, 'change')} since ${next.latest}`}.
      </p>
      {next.latest !== null && next.commits === 0 && (
        <p className="text-ochre">Nothing has changed since {next.latest}: this would be the same code under another name.</p>
      )}
      <Field label="Its name" error={fieldProblem(error, 'name')} isNeeded>
        <TextInput autoFocus maxLength={60} {...register('name', { required: true })} />
      </Field>
      <Names label="Or" names={next.names} onName={(one) => setValue('name', one)} />
      <Names label="To be tried first, as a candidate:" names={next.candidates} onName={(one) => setValue('name', one)} />
      <Doubts doubts={next.doubts} />
      <section aria-label="What would be in it">
        <SectionHead>What would be in it: {plural(next.items.length, 'item')}</SectionHead>
        <ul className="m-0 max-h-[220px] list-none overflow-y-auto p-0">
          {next.items.map((item) => (
            <li key={item.key} className="truncate py-0.5">
              <ThingLink to={{ kind: 'item', id: item.key }} /> {item.title}
            </li>
          ))}
        </ul>
      </section>
      {next.leftOut.length > 0 && (
        <details>
          <summary className="cursor-pointer text-ochre">Left out: {plural(next.leftOut.length, 'item')} that came later</summary>
          <ul aria-label="What would be left out" className="m-0 max-h-[160px] list-none overflow-y-auto p-0">
            {next.leftOut.map((item) => (
              <li key={item.key} className="truncate py-0.5">
                <ThingLink to={{ kind: 'item', id: item.key }} /> {item.title}
              </li>
            ))}
          </ul>
        </details>
      )}
      {!fieldProblem(error, 'name') && <Refusal error={error} />}
      <Button look="main" type="submit" disabled={isLoading || name.trim() === ''}>
        Tag {next.tagPrefix}
        {name.trim()} and push it
      </Button>
    </form>
  )
}

/** What it can be made of, in a list; the commit that is looked at may be none of those that are offered. */
function choicesOf(next: NextRelease, tip: NonNullable<NextRelease['tip']>) {
  const offered = next.choices.some(({ sha }) => sha === tip.sha) ? next.choices : [tip, ...next.choices]
  return offered.map(({ sha, subject, branch }) => ({ value: sha, label: `${branch ?? sha.slice(0, 7)}: ${subject}` }))
}

function Names({ label, names, onName }: { label: string; names: readonly string[]; onName: (name: string) => void }) {
  if (names.length === 0) return null
  return (
    <p className="text-[12px] text-ink-2">
      {label}{' '}
      {names.map((one) => (
        <Button key={one} look="line" className="mr-2" onClick={() => onName(one)}>
          {one}
        </Button>
      ))}
    </p>
  )
}

function Doubts({ doubts }: { doubts: NextRelease['doubts'] }) {
  if (doubts.length === 0) return null
  return (
    <section aria-label="What speaks against it" className="border-l-2 border-ochre bg-ochre-soft px-2 py-1">
      <SectionHead>What speaks against it</SectionHead>
      <ul className="m-0 list-none p-0">
        {doubts.map((doubt) => (
          <li key={`${doubt.key} ${doubt.why}`}>
            {doubt.key !== null && <ThingLink to={{ kind: 'item', id: doubt.key }} />} {DOUBT_WORDS[doubt.why]}
          </li>
        ))}
      </ul>
    </section>
  )
}

import type { Gap, GapCode, Gaps } from '@dystracer/core/requirements/gaps-wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { DateInput } from '#shared/ui/DateInput'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextArea } from '#shared/ui/fields'
import { Button, Quiet, Refusal, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useAgreeGapMutation, useReopenGapMutation } from './requirements.api'

const TITLE: Record<GapCode, string> = {
  broken: 'Broken by an open item',
  'failing-test': 'A test of it fails',
  'look-again': 'Ties were made for an older text',
  'without-item': 'No item implements it',
  'without-test': 'No test proves it',
  'item-without-requirement': 'Items that nothing asked for',
  'fix-not-released': 'Fixed, and in no release',
}

/** What is missing between what is asked for and its proof, told by kind; a gap may be agreed to, with a reason and an end. */
export function GapList({ project, gaps, canAgree }: { project: string; gaps: Gaps; canAgree: boolean }) {
  const [isAll, setIsAll] = useState(false)
  const [agreeing, setAgreeing] = useState<Gap | null>(null)
  const agreed = gaps.counts.reduce((sum, count) => sum + count.agreed, 0)
  const rows = gaps.rows.filter((gap) => isAll || gap.agreed === null)
  return (
    <div className="px-4 py-3">
      {rows.length === 0 && <Quiet>Nothing is missing.</Quiet>}
      {agreed > 0 && (
        <Button look="line" aria-pressed={isAll} onClick={() => setIsAll(!isAll)}>
          {isAll ? 'Without those that were agreed' : `${plural(agreed, 'gap')} agreed, show`}
        </Button>
      )}
      {gaps.counts
        .map(({ code, open }) => ({ code, open, of: rows.filter((gap) => gap.code === code) }))
        .filter(({ of }) => of.length > 0)
        .map(({ code, open, of }) => (
          <section key={code} aria-label={TITLE[code]} className="mb-4">
            <SectionHead>
              {TITLE[code]}: {open}
            </SectionHead>
            <ul className="m-0 list-none p-0">
              {of.map((gap) => (
                <GapLine key={gap.id} project={project} gap={gap} canAgree={canAgree} onAgree={() => setAgreeing(gap)} />
              ))}
            </ul>
          </section>
        ))}
      {gaps.more > 0 && <p className="text-ink-2">And {gaps.more} more that are counted, not listed.</p>}
      {agreeing && <AgreeDialog project={project} gap={agreeing} onClose={() => setAgreeing(null)} />}
    </div>
  )
}

function GapLine({ project, gap, canAgree, onAgree }: { project: string; gap: Gap; canAgree: boolean; onAgree: () => void }) {
  const { nameOf } = usePeople()
  const [reopen] = useReopenGapMutation()
  const takeBack = async () => {
    const result = await reopen({ project, code: gap.code, id: gap.id })
    if (result.error) toast.error(problemText(result.error))
  }
  return (
    <li className="flex items-baseline gap-3 border-b border-edge-soft py-1">
      <span className="w-[64px] shrink-0">
        <ThingLink to={{ kind: gap.kind, id: gap.id }} />
      </span>
      <span className="min-w-0 flex-1">
        <span className={`block truncate ${gap.kind === 'requirement' ? 'font-serif text-[14px]' : ''}`}>{gap.title}</span>
        {gap.agreed && (
          <span className="block text-[12px] text-ink-2">
            agreed by {nameOf(gap.agreed.by)}
            {gap.agreed.until && ` until ${gap.agreed.until}`}: {gap.agreed.reason}
          </span>
        )}
      </span>
      <span className="shrink-0 text-right text-[12px] text-ink-2">
        {gap.code === 'look-again' ? plural(Number(gap.by[0]), 'tie') : gap.by.join(', ')} {gap.ownerId && nameOf(gap.ownerId)}{' '}
        {gap.sinceMs !== null && <When atMs={gap.sinceMs} />}
      </span>
      {canAgree &&
        (gap.agreed ? (
          <Button look="line" aria-label={`It may not stay: ${gap.id}`} onClick={() => void takeBack()}>
            it may not stay
          </Button>
        ) : (
          <Button look="line" aria-label={`Agree to ${gap.id}`} onClick={onAgree}>
            agree…
          </Button>
        ))}
    </li>
  )
}

function AgreeDialog({ project, gap, onClose }: { project: string; gap: Gap; onClose: () => void }) {
  const [agree, { error, isLoading }] = useAgreeGapMutation()
  const [until, setUntil] = useState('')
  const { register, handleSubmit } = useForm({ defaultValues: { reason: '' } })
  const submit = handleSubmit(async ({ reason }) => {
    const result = await agree({ project, code: gap.code, id: gap.id, reason, until: until || null })
    if (!result.error) onClose()
  })
  return (
    <Dialog title={`The gap of ${gap.id} may stay`} isOpen onClose={onClose}>
      <form aria-label="Agree to a gap" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <p className="text-ink-2">
          {TITLE[gap.code]}: {gap.title}
        </p>
        <Field label="Why it may stay" isNeeded>
          <TextArea autoFocus rows={2} maxLength={1000} {...register('reason', { required: true })} />
        </Field>
        <Field label="Until, or for good">
          <DateInput label="Until" value={until} onDone={setUntil} />
        </Field>
        <Refusal error={error} />
        <Button look="main" type="submit" disabled={isLoading}>
          It may stay
        </Button>
      </form>
    </Dialog>
  )
}

import { VERDICTS, type Verdict } from '@dystracer/core/reviews/verdicts'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { remarksToSend, useAllPendingRemarks, VERDICT_WORDS } from '#features/reviews/index'
import { useGiveReviewMutation, useReviewQuery } from '#features/reviews/reviews.api'
import { plural } from '#shared/lib/format'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextArea } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'

interface Open {
  id: string
  title: string
}

/**
 * What somebody found in the whole change: said once, and sent to each of its open pull requests with the remarks made there. One that
 * refuses says why and can be sent again; the others have it.
 */
export function JudgeDialog({
  itemKey,
  begin,
  open,
  onClose,
}: {
  itemKey: string
  begin: Verdict
  open: readonly Open[]
  onClose: () => void
}) {
  const [give, { isLoading }] = useGiveReviewMutation()
  const pending = useAllPendingRemarks()
  const { register, handleSubmit, watch } = useForm<{ verdict: Verdict; words: string; to: string[] }>({
    defaultValues: { verdict: begin, words: '', to: open.map(({ id }) => id) },
  })
  const [sent, setSent] = useState<ReadonlySet<string>>(new Set())
  const [refused, setRefused] = useState<ReadonlyMap<string, unknown>>(new Map())
  const submit = handleSubmit(async ({ verdict, words, to }) => {
    const had = new Set(sent)
    const refusals = new Map<string, unknown>()
    for (const id of to.filter((each) => !had.has(each))) {
      const result = await give({ id, verdict, words, remarks: remarksToSend(pending.of(id)) })
      if (result.error) refusals.set(id, result.error)
      else {
        pending.clear(id)
        had.add(id)
      }
    }
    setSent(had)
    setRefused(refusals)
    if (refusals.size > 0) return
    toast.success(`Sent to ${plural(had.size, 'pull request')}`)
    onClose()
  })
  return (
    <Dialog title={`Say what you found in ${itemKey}`} isOpen onClose={onClose}>
      <form aria-label="Say what you found" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <fieldset className="m-0 border-0 p-0">
          <legend className="sr-only">What you think of it</legend>
          {VERDICTS.map((verdict) => (
            <label key={verdict} className="flex items-center gap-2">
              <input type="radio" value={verdict} {...register('verdict')} />
              {VERDICT_WORDS[verdict]}
            </label>
          ))}
        </fieldset>
        <Field label="In words">
          <TextArea rows={4} maxLength={20_000} {...register('words')} />
        </Field>
        <fieldset className="m-0 border-0 p-0">
          <legend className="text-[12px] text-ink-2">Sent to</legend>
          {open.map((each) => (
            <div key={each.id}>
              <label className="flex items-center gap-2">
                <input type="checkbox" value={each.id} disabled={sent.has(each.id)} {...register('to')} />
                <span className="min-w-0 flex-1 truncate">
                  {each.id} {each.title}
                </span>
                <Note id={each.id} remarks={pending.of(each.id).length} isSent={sent.has(each.id)} />
              </label>
              {refused.has(each.id) && <Refusal error={refused.get(each.id)} />}
            </div>
          ))}
        </fieldset>
        <Button look="main" type="submit" disabled={isLoading || watch('to').length === 0}>
          {isLoading ? 'Sending …' : 'Send'}
        </Button>
      </form>
    </Dialog>
  )
}

/** What goes there with it, and whether one may agree to it. */
function Note({ id, remarks, isSent }: { id: string; remarks: number; isSent: boolean }) {
  const { data } = useReviewQuery(id)
  const { me } = usePeople()
  const hasWritten = data !== undefined && !data.canAgree.includes(me?.person?.personId ?? '')
  const notes = [isSent ? 'sent' : '', remarks > 0 ? `with ${plural(remarks, 'remark')}` : '', hasWritten ? 'you wrote part of it' : '']
  return <span className="shrink-0 text-[12px] text-ink-3">{notes.filter(Boolean).join(', ')}</span>
}

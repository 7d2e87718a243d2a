import { VERDICTS, type Verdict } from '@dystracer/core/reviews/verdicts'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { plural } from '#shared/lib/format'
import { fieldProblem } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextArea } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { remarksToSend, usePendingRemarks } from './pending.slice'
import { useGiveReviewMutation } from './reviews.api'

/** A verdict in the words of who gives it. */
export const VERDICT_WORDS: Record<Verdict, string> = {
  agreed: 'I agree to it as it is',
  'changes-asked': 'It needs changes before it may be merged',
  remarked: 'I only remark',
}

/** What somebody found, with all their remarks: sent at once. Whoever wrote part of it can say anything but that they agree. */
export function VerdictDialog({
  id,
  canAgree,
  begin = 'remarked',
  onClose,
}: {
  id: string
  canAgree: boolean
  begin?: Verdict
  onClose: () => void
}) {
  const [give, { error, isLoading }] = useGiveReviewMutation()
  const pending = usePendingRemarks(id)
  const { register, handleSubmit } = useForm<{ verdict: Verdict; words: string }>({
    defaultValues: { verdict: begin === 'agreed' && !canAgree ? 'remarked' : begin, words: '' },
  })
  const submit = handleSubmit(async ({ verdict, words }) => {
    const result = await give({ id, verdict, words, remarks: remarksToSend(pending.remarks) })
    if (result.error) return
    pending.clear()
    toast.success('Sent')
    onClose()
  })
  const wrong = fieldProblem(error, 'words')
  return (
    <Dialog title="Say what you found" isOpen onClose={onClose}>
      <form aria-label="Say what you found" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <fieldset className="m-0 border-0 p-0">
          <legend className="sr-only">What you think of it</legend>
          {VERDICTS.map((verdict) => (
            <label key={verdict} className="flex items-center gap-2">
              <input type="radio" value={verdict} disabled={verdict === 'agreed' && !canAgree} {...register('verdict')} />
              {VERDICT_WORDS[verdict]}
              {verdict === 'agreed' && !canAgree && <span className="text-[12px] text-ink-3">you wrote part of it</span>}
            </label>
          ))}
        </fieldset>
        <Field label="In words" error={wrong}>
          <TextArea rows={4} maxLength={20_000} {...register('words')} />
        </Field>
        {pending.remarks.length > 0 && <p className="m-0 text-ink-2">{plural(pending.remarks.length, 'remark')} on lines go with it.</p>}
        {!wrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          {isLoading ? 'Sending …' : 'Send'}
        </Button>
      </form>
    </Dialog>
  )
}

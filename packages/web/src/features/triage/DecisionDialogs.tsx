import { ASK_DAYS_DEFAULT, type Proposal } from '@dystracer/core/triage/wire'
import { useForm } from 'react-hook-form'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'

interface DialogProps {
  itemKey: string
  isOpen: boolean
  onClose: () => void
}

/** Says which item it is the same as: one of the look-alikes, by its number or a click, or any by its key. */
export function SameAsDialog({
  itemKey,
  isOpen,
  onClose,
  alike,
  onChosen,
}: DialogProps & { alike: readonly Proposal[]; onChosen: (into: string) => void }) {
  const { register, handleSubmit, watch, setValue } = useForm({ defaultValues: { into: alike[0]?.value ?? '' } })
  const choose = handleSubmit(({ into }) => {
    if (into.trim() !== '') onChosen(into.trim().toUpperCase())
  })
  const into = watch('into')
  return (
    <Dialog title={`${itemKey} is the same as …`} isOpen={isOpen} onClose={onClose}>
      <form className="space-y-3 px-4 py-3" onSubmit={(event) => void choose(event)}>
        {alike.length > 0 && (
          <div role="radiogroup" aria-label="Look-alikes">
            {alike.map((entry) => (
              <label key={entry.value} className="flex items-baseline gap-2 py-0.5">
                <input type="radio" name="same-as" checked={into === entry.value} onChange={() => setValue('into', entry.value)} />
                <span className="min-w-0">
                  <span className="font-mono text-[12px]">{entry.value}</span> {entry.label}
                  <span className="block text-[12px] text-ink-2">{entry.reason}</span>
                </span>
              </label>
            ))}
          </div>
        )}
        <Field label="Key of the item">
          <TextInput autoFocus maxLength={20} {...register('into')} />
        </Field>
        <p className="text-[12px] text-ink-2">
          Its reporter and followers will follow that item, its occurrences and requirements go along. It can be split again.
        </p>
        <Button look="main" type="submit" disabled={into.trim() === ''}>
          It is the same
        </Button>
      </form>
    </Dialog>
  )
}

/** Asks the reporter; the item comes back on the answer, or after the days. */
export function AskDialog({
  itemKey,
  isOpen,
  onClose,
  reporter,
  onChosen,
}: DialogProps & { reporter: string; onChosen: (words: string, days: number) => void }) {
  const { register, handleSubmit, watch } = useForm({ defaultValues: { words: '', days: ASK_DAYS_DEFAULT } })
  const ask = handleSubmit(({ words, days }) => {
    if (words.trim() !== '') onChosen(words.trim(), days)
  })
  return (
    <Dialog title={`Ask about ${itemKey}`} isOpen={isOpen} onClose={onClose}>
      <form className="space-y-3 px-4 py-3" onSubmit={(event) => void ask(event)}>
        <Field label={`Question to ${reporter}`}>
          <TextArea
            autoFocus
            rows={4}
            maxLength={2000}
            {...register('words')}
            onKeyDown={(event) => {
              if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) event.currentTarget.form?.requestSubmit()
            }}
          />
        </Field>
        <Field label="Comes back without an answer after days">
          <TextInput type="number" min={1} max={60} className="w-[80px]!" {...register('days', { valueAsNumber: true })} />
        </Field>
        <Button look="main" type="submit" disabled={watch('words').trim() === ''}>
          Ask the reporter
        </Button>
      </form>
    </Dialog>
  )
}

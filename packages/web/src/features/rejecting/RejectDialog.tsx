import { useForm } from 'react-hook-form'
import type { Body } from '#shared/lib/api'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'

/** Why an item is not ours to change, but for "the same as another", which names that one. */
export const DISPOSITION_CHOICES = [
  { value: 'will-not-fix', label: 'will not fix' },
  { value: 'works-as-required', label: 'works as required' },
  { value: 'cannot-reproduce', label: 'cannot reproduce' },
  { value: 'deferred', label: 'deferred' },
] as const
const WITH_DUPLICATE = [...DISPOSITION_CHOICES, { value: 'duplicate', label: 'duplicate of …' }] as const
export type Rejection = Pick<Body<'rejectItem'>, 'disposition' | 'words' | 'sameAs'>

/**
 * A rejection says why, with words that its reporter will read. Where the item can be given as a duplicate here, it asks for the other's
 * key.
 */
export function RejectDialog({
  itemKey,
  isOpen,
  hasDuplicate = false,
  onClose,
  onChosen,
}: {
  itemKey: string
  isOpen: boolean
  hasDuplicate?: boolean
  onClose: () => void
  onChosen: (rejection: Rejection) => void
}) {
  const { register, handleSubmit, watch } = useForm<{ disposition: Rejection['disposition']; words: string; sameAs: string }>({
    defaultValues: { disposition: DISPOSITION_CHOICES[0].value, words: '', sameAs: '' },
  })
  const reject = handleSubmit(({ disposition, words, sameAs }) =>
    onChosen({ disposition, words: words.trim(), ...(disposition === 'duplicate' && { sameAs: sameAs.trim().toUpperCase() }) }),
  )
  return (
    <Dialog title={`Reject ${itemKey}`} isOpen={isOpen} onClose={onClose}>
      <form className="space-y-3 px-4 py-3" onSubmit={(event) => void reject(event)}>
        <Field label="Why">
          <Choose autoFocus choices={hasDuplicate ? WITH_DUPLICATE : DISPOSITION_CHOICES} {...register('disposition')} />
        </Field>
        {watch('disposition') === 'duplicate' && (
          <Field label="Key of the item that it is the same as">
            <TextInput required maxLength={20} {...register('sameAs')} />
          </Field>
        )}
        <Field label="Words to the reporter">
          <TextArea rows={3} maxLength={2000} {...register('words')} />
        </Field>
        <Button look="main" type="submit">
          Reject it
        </Button>
      </form>
    </Dialog>
  )
}

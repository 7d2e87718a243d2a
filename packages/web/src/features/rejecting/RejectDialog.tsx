import { useState } from 'react'
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
  const [disposition, setDisposition] = useState<Rejection['disposition']>(DISPOSITION_CHOICES[0].value)
  const [words, setWords] = useState('')
  const [sameAs, setSameAs] = useState('')
  return (
    <Dialog title={`Reject ${itemKey}`} isOpen={isOpen} onClose={onClose}>
      <form
        className="space-y-3 px-4 py-3"
        onSubmit={(event) => {
          event.preventDefault()
          onChosen({ disposition, words: words.trim(), ...(disposition === 'duplicate' && { sameAs: sameAs.trim().toUpperCase() }) })
        }}
      >
        <Field label="Why">
          <Choose
            autoFocus
            value={disposition}
            choices={hasDuplicate ? WITH_DUPLICATE : DISPOSITION_CHOICES}
            onChange={(event) => setDisposition(event.target.value)}
          />
        </Field>
        {disposition === 'duplicate' && (
          <Field label="Key of the item that it is the same as">
            <TextInput required maxLength={20} value={sameAs} onChange={(event) => setSameAs(event.target.value)} />
          </Field>
        )}
        <Field label="Words to the reporter">
          <TextArea rows={3} maxLength={2000} value={words} onChange={(event) => setWords(event.target.value)} />
        </Field>
        <Button look="main" type="submit">
          Reject it
        </Button>
      </form>
    </Dialog>
  )
}

import { parseQuality } from '@dystracer/core/findings/quality-sentence'
import { useState } from 'react'
import { TextInput } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'

/** The quality that a change has to keep to, as the sentence that it is; one that is not understood is not saved, and says why. */
export function QualityPart({
  sentence,
  where,
  canEdit,
  onChange,
}: {
  sentence: string
  where: string
  canEdit: boolean
  onChange: (sentence: string) => void
}) {
  const [text, setText] = useState(sentence)
  // What was kept last, and what was sent last: leaving the field does not send again what is on its way.
  const [kept, setKept] = useState(sentence)
  const [sent, setSent] = useState(sentence)
  if (kept !== sentence) {
    setKept(sentence)
    setSent(sentence)
    setText(sentence)
  }
  const read = parseQuality(text)
  const why = 'why' in read ? read.why : null
  const save = (than: string) => {
    if (why !== null || text.trim() === '' || text.trim() === than) return
    setSent(text.trim())
    onChange(text.trim())
  }
  return (
    <span className="flex flex-wrap items-center gap-2">
      <span>and it brings at most</span>
      <TextInput
        aria-label={`The quality that is asked for in ${where}`}
        aria-invalid={why !== null}
        className="w-80! py-0.5!"
        disabled={!canEdit}
        maxLength={300}
        value={text}
        onChange={({ target }) => setText(target.value)}
        onBlur={() => save(sent)}
        onKeyDown={({ key }) => {
          if (key === 'Enter') save(sentence)
        }}
      />
      {canEdit && (
        <Button look="line" aria-label={`not any more: quality, ${where}`} onClick={() => onChange('')}>
          not any more
        </Button>
      )}
      {why !== null && <span className="text-[12px] text-fault">{why}</span>}
    </span>
  )
}

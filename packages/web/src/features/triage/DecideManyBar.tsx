import type { DecideMany } from '@dystracer/core/triage/wire'
import { useState } from 'react'
import { Choose, TextInput } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'
import { DISPOSITION_CHOICES } from '#features/rejecting/index'

/** One decision on all rows that were chosen with Space or Shift and arrows. */
export function DecideManyBar({
  keys,
  onDecide,
  onNone,
}: {
  keys: string[]
  onDecide: (input: DecideMany, said: string) => void
  onNone: () => void
}) {
  const [into, setInto] = useState('')
  const [words, setWords] = useState('')
  return (
    <div
      role="toolbar"
      aria-label="Chosen reports"
      className="flex flex-wrap items-center gap-2 border-b border-edge bg-mark px-3 py-1 text-[12px]"
    >
      <b>{keys.length} chosen</b>
      <Choose
        aria-label="Accept them at"
        className="w-auto! py-0.5!"
        value=""
        none="accept at …"
        choices={['1', '2', '3', '4', '5'].map((value) => ({ value, label: value }))}
        onChange={(event) =>
          onDecide({ decision: 'accept', severity: Number(event.target.value), keys }, `accepted at ${event.target.value}`)
        }
      />
      <Choose
        aria-label="Reject them"
        className="w-auto! py-0.5!"
        value=""
        none="reject …"
        choices={DISPOSITION_CHOICES}
        onChange={(event) =>
          onDecide(
            { decision: 'reject', disposition: event.target.value as (typeof DISPOSITION_CHOICES)[number]['value'], words, keys },
            'rejected',
          )
        }
      />
      <TextInput
        aria-label="Words to the reporters"
        placeholder="words, or a question"
        className="w-[150px]! py-0.5!"
        maxLength={2000}
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      <Button disabled={words.trim() === ''} onClick={() => onDecide({ decision: 'ask', words, keys }, 'asked')}>
        Ask
      </Button>
      <TextInput
        aria-label="The same as"
        placeholder="key"
        className="w-[84px]! py-0.5!"
        maxLength={20}
        value={into}
        onChange={(event) => setInto(event.target.value)}
      />
      <Button
        disabled={into.trim() === ''}
        onClick={() =>
          onDecide({ decision: 'same-as', into: into.trim().toUpperCase(), keys }, `are the same as ${into.trim().toUpperCase()}`)
        }
      >
        Same as
      </Button>
      <Button look="text" onClick={onNone}>
        Choose none
      </Button>
    </div>
  )
}

import { HOOK_EVENTS, placesOf, type HookEvent, type HookField, type HookReading } from '@dystracer/core/incoming/hook-reading'
import type { HookMessage } from '@dystracer/core/incoming/wire'
import { useId, useState } from 'react'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal, SectionHead } from '#shared/ui/parts'
import { FIELD_WORDS, TELLS_WORDS } from './incoming.words'

const TELLS_CHOICES = (Object.keys(HOOK_EVENTS) as HookEvent[]).map((value) => ({ value, label: TELLS_WORDS[value] }))
const IS_CHOICES = [
  { value: 'same', label: 'is' },
  { value: 'other', label: 'is not' },
  { value: 'there', label: 'is there' },
] as const
const NEW: HookReading = { name: '', when: [], tells: 'build-finished', fields: {} }

/**
 * How the messages of a hook are read: each reading says which messages it is about, what they tell, and
 * where each part stands in them. What is changed is tried on what came, and holds once it is kept.
 */
export function HookReadings({
  readings,
  messages,
  error,
  isBusy,
  onTry,
  onKeep,
}: {
  readings: readonly HookReading[]
  messages: readonly HookMessage[]
  error: unknown
  isBusy: boolean
  onTry: (readings: HookReading[]) => void
  onKeep: (readings: HookReading[]) => void
}) {
  const placesId = useId()
  const [draft, setDraft] = useState<HookReading[]>([...readings])
  const change = (at: number, next: HookReading) => setDraft(draft.map((reading, place) => (place === at ? next : reading)))
  const places = new Map(messages.flatMap(({ message }) => placesOf(message)).map(({ at, text }) => [at, text]))
  const isChanged = JSON.stringify(draft) !== JSON.stringify(readings)
  return (
    <section aria-label="Readings">
      <SectionHead>How its messages are read</SectionHead>
      <p className="text-ink-2">The first reading that is about a message says what it tells. A message that none is about is kept.</p>
      <datalist id={placesId}>
        {[...places].map(([at, text]) => (
          <option key={at} value={at}>
            {text.slice(0, 60)}
          </option>
        ))}
      </datalist>
      {draft.map((reading, at) => (
        <Reading
          // biome-ignore lint/suspicious/noArrayIndexKey: readings have no other identity, and their order is what counts
          key={at}
          reading={reading}
          placesId={placesId}
          onChange={(next) => change(at, next)}
          onRemove={() => setDraft(draft.filter((_, place) => place !== at))}
          onEarlier={at === 0 ? undefined : () => setDraft(draft.with(at - 1, reading).with(at, draft[at - 1] as HookReading))}
        />
      ))}
      <Refusal error={error} />
      <div className="mt-2 flex gap-3">
        <Button onClick={() => setDraft([...draft, NEW])}>Another reading</Button>
        <Button disabled={isBusy || draft.length === 0 || messages.length === 0} onClick={() => onTry(draft)}>
          Try on what came
        </Button>
        <Button look="main" disabled={isBusy || !isChanged} onClick={() => onKeep(draft)}>
          Keep
        </Button>
      </div>
    </section>
  )
}

function Reading({
  reading,
  placesId,
  onChange,
  onRemove,
  onEarlier,
}: {
  reading: HookReading
  placesId: string
  onChange: (next: HookReading) => void
  onRemove: () => void
  onEarlier: (() => void) | undefined
}) {
  const { needs, may } = HOOK_EVENTS[reading.tells]
  return (
    <fieldset aria-label={`Reading ${reading.name}`} className="m-0 mt-3 space-y-2 border-0 border-l-2 border-edge p-0 pl-3">
      <div className="flex items-end gap-3">
        <Field label="Name of the reading">
          <TextInput
            className="w-[170px]!"
            maxLength={60}
            value={reading.name}
            onChange={(event) => onChange({ ...reading, name: event.target.value })}
          />
        </Field>
        <Field label="It tells that">
          <Choose
            className="w-[190px]!"
            value={reading.tells}
            choices={TELLS_CHOICES}
            onChange={(event) => onChange({ ...reading, tells: event.target.value, fields: {} })}
          />
        </Field>
        <span className="flex gap-3 pb-1.5">
          {onEarlier && (
            <Button look="line" onClick={onEarlier}>
              earlier
            </Button>
          )}
          <Button look="line" onClick={onRemove}>
            take off
          </Button>
        </span>
      </div>
      <Conditions reading={reading} placesId={placesId} onChange={onChange} />
      <table className="w-full text-[12px]">
        <thead>
          <tr className="text-left text-ink-3">
            <th scope="col" className="font-normal">
              field
            </th>
            <th scope="col" className="font-normal">
              stands at
            </th>
            <th scope="col" className="font-normal">
              else always
            </th>
            <th scope="col" className="font-normal">
              its words mean
            </th>
          </tr>
        </thead>
        <tbody>
          {[...needs, ...may].map((field: HookField) => (
            <FieldRow
              key={field}
              field={field}
              isNeeded={(needs as readonly HookField[]).includes(field)}
              reading={reading}
              placesId={placesId}
              onChange={onChange}
            />
          ))}
        </tbody>
      </table>
    </fieldset>
  )
}

/** Which messages a reading is about. */
function Conditions({ reading, placesId, onChange }: { reading: HookReading; placesId: string; onChange: (next: HookReading) => void }) {
  const set = (at: number, change: Partial<HookReading['when'][number]>) =>
    onChange({ ...reading, when: reading.when.map((condition, place) => (place === at ? { ...condition, ...change } : condition)) })
  return (
    <div className="space-y-1 text-[12px]">
      <span className="text-ink-2">{reading.when.length === 0 ? 'Of every message that comes to it.' : 'Of messages in which'}</span>
      {reading.when.map((condition, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: conditions have no other identity
        <span key={at} className="flex items-center gap-2">
          <TextInput
            aria-label={`Place of condition ${at + 1}`}
            list={placesId}
            className="w-[220px]! py-0.5! font-mono"
            maxLength={500}
            value={condition.at}
            onChange={(event) => set(at, { at: event.target.value })}
          />
          <Choose
            aria-label={`Comparison of condition ${at + 1}`}
            className="w-auto! py-0.5!"
            value={condition.is}
            choices={IS_CHOICES}
            onChange={(event) => set(at, { is: event.target.value })}
          />
          {condition.is !== 'there' && (
            <TextInput
              aria-label={`Word of condition ${at + 1}`}
              className="w-[140px]! py-0.5!"
              maxLength={500}
              value={condition.text}
              onChange={(event) => set(at, { text: event.target.value })}
            />
          )}
          <Button
            look="line"
            aria-label={`take off condition ${at + 1}`}
            onClick={() => onChange({ ...reading, when: reading.when.filter((_, place) => place !== at) })}
          >
            take off
          </Button>
        </span>
      ))}
      <Button look="line" onClick={() => onChange({ ...reading, when: [...reading.when, { at: '', is: 'same', text: '' }] })}>
        {reading.when.length === 0 ? 'only those in which…' : 'and…'}
      </Button>
    </div>
  )
}

/** Where a field stands in the message, what it is where nothing stands there, and what the sender's words mean. */
function FieldRow({
  field,
  isNeeded,
  reading,
  placesId,
  onChange,
}: {
  field: HookField
  isNeeded: boolean
  reading: HookReading
  placesId: string
  onChange: (next: HookReading) => void
}) {
  const value = reading.fields[field] ?? { at: '', text: '', words: [] }
  const set = (change: Partial<typeof value>) => {
    const next = { ...value, ...change }
    const { [field]: _before, ...others } = reading.fields
    onChange({ ...reading, fields: next.at === '' && next.text === '' && next.words.length === 0 ? others : { ...others, [field]: next } })
  }
  return (
    <tr className="border-t border-edge-soft">
      <th scope="row" className={`w-[210px] py-0.5 pr-2 text-left ${isNeeded ? '' : 'font-normal text-ink-2'}`}>
        {FIELD_WORDS[field]}
      </th>
      <td className="py-0.5 pr-2">
        <TextInput
          aria-label={`Place of ${field}`}
          list={placesId}
          className="py-0.5! font-mono"
          maxLength={500}
          value={value.at}
          onChange={(event) => set({ at: event.target.value })}
        />
      </td>
      <td className="w-[140px] py-0.5 pr-2">
        <TextInput
          aria-label={`Text of ${field}`}
          className="py-0.5!"
          maxLength={500}
          value={value.text}
          onChange={(event) => set({ text: event.target.value })}
        />
      </td>
      <td className="w-[250px] py-0.5">
        <WordsInput field={field} words={value.words} onChange={(words) => set({ words })} />
      </td>
    </tr>
  )
}

type Words = NonNullable<HookReading['fields'][HookField]>['words']

/** What a sender's words mean here, as one line: `SUCCESS = passed, FAILURE = broke`; taken over when it is left. */
function WordsInput({ field, words, onChange }: { field: HookField; words: Words; onChange: (words: Words) => void }) {
  const [text, setText] = useState(words.map(({ from, to }) => `${from} = ${to}`).join(', '))
  return (
    <TextInput
      aria-label={`Words of ${field}`}
      className="py-0.5!"
      maxLength={1000}
      placeholder={field === 'outcome' ? 'OK = passed' : field === 'state' ? 'active = open' : ''}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={() =>
        onChange(
          text.split(',').flatMap((part) => {
            const [from = '', to = ''] = part.split('=').map((word) => word.trim())
            return from === '' || to === '' ? [] : [{ from, to }]
          }),
        )
      }
    />
  )
}

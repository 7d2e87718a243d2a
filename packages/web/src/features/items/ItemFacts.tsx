import { ITEM_FIELDS, LINE_FIELDS, suggestionsFor } from '@dystracer/core/setup/item-fields'
import { capitalised } from '#shared/lib/format'
import type { ChangeItem, Item } from '@dystracer/core/items/wire'
import { formatMinutes, parseDurationMinutes } from '@dystracer/core/text/duration'
import { useState, type ReactNode } from 'react'
import { useSetupQuery } from '#features/setup/setup.api'
import { PRIORITY_CHOICES, SEVERITIES, toChoices } from '#shared/lib/choices'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Choose, TextInput } from '#shared/ui/fields'
import { DateInput } from '#shared/ui/DateInput'
import { Button, Fact, Label } from '#shared/ui/parts'
import { OwnFieldControl, showsField } from './item-fields'
import type { SaveItem } from './use-save'

const BARE = 'border-0! px-0! py-0! disabled:opacity-100'
const CLASSIFICATION = [
  { field: 'detectedIn', label: 'Detected in', choices: ['requirements', 'design', 'coding', 'review', 'test', 'operation'] },
  { field: 'broughtInAt', label: 'Brought in at', choices: ['requirements', 'design', 'coding', 'change'] },
  { field: 'kind', label: 'Kind', choices: ['missing', 'wrong', 'extra'] },
  { field: 'effect', label: 'Effect', choices: ['function', 'performance', 'security', 'usability', 'data', 'safety', 'none'] },
] as const

/** What is known of an item, each edited in place; what its type hides is left out. */
export function ItemFacts({ item, save }: { item: Item; save: SaveItem }) {
  const people = usePeople()
  const { me } = people
  const { data: setup } = useSetupQuery(item.project)
  const trail = usePaneTrail()
  const [isMore, setIsMore] = useState(false)
  const isLocked = !people.may('items.change')
  const milestoneDue = setup?.milestones.find((milestone) => milestone.name === item.milestone)?.dueOn
  const shows = (field: string) => showsField(setup, item.type, field)
  const everybody = (me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))
  return (
    <>
      <div className="grid grid-cols-2 border-t border-edge">
        {shows('severity') && (
          <Pick
            label="Severity"
            value={item.severity === null ? '' : String(item.severity)}
            none="not decided"
            choices={SEVERITIES}
            isLocked={isLocked}
            isBad={(item.severity ?? 9) <= 2}
            onPick={(value) => void save({ severity: value ? Number(value) : null })}
          />
        )}
        <Pick
          label="Owner"
          value={item.ownerId ?? ''}
          none={item.keeperId ? `nobody (${people.nameOf(item.keeperId)} keeps the component)` : 'nobody'}
          choices={everybody}
          isLocked={isLocked}
          onPick={(value) => void save({ ownerId: value || null })}
        />
        {shows('priority') && (
          <Pick
            label="Priority"
            value={item.priority ?? ''}
            none="none"
            choices={PRIORITY_CHOICES}
            isLocked={isLocked}
            onPick={(value) => void save({ priority: (value || null) as ChangeItem['priority'] })}
          />
        )}
        <Pick
          label="Component"
          value={item.component ?? ''}
          none="none"
          choices={toChoices(me?.components ?? [])}
          isLocked={isLocked}
          onPick={(value) => void save({ component: value || null })}
        />
        {shows('due') && (
          <Fact label="Due">
            <DateInput
              label="Due"
              disabled={isLocked}
              value={item.dueOn ?? ''}
              onDone={(day) => void save({ dueOn: day || null })}
              className={BARE}
            />
          </Fact>
        )}
        {shows('milestone') && (
          <Typed
            label="Milestone"
            value={item.milestone}
            list="all-milestones"
            hint={milestoneDue && `due ${milestoneDue}`}
            isLocked={isLocked}
            onDone={(value) => save({ milestone: value })}
          />
        )}
        <Fact label="Time">
          <Button look="line" onClick={() => trail.open({ kind: 'time', id: item.key })}>
            {formatMinutes(item.spentMinutes)}
            {item.estimateMinutes !== null && ` of ${formatMinutes(item.estimateMinutes)}`}
          </Button>
          {item.estimateMinutes !== null && (
            <span className="text-ink-3"> {formatMinutes(item.estimateMinutes - item.spentMinutes)} left</span>
          )}
        </Fact>
        {shows('labels') && <LabelsFact item={item} isLocked={isLocked} save={save} />}
      </div>
      <Button look="text" aria-expanded={isMore} className="mx-4 my-1" onClick={() => setIsMore(!isMore)}>
        {isMore ? 'Fewer fields' : 'All fields'}
      </Button>
      {isMore && (
        <div className="grid grid-cols-2 border-t border-edge">
          <Pick
            label="Type"
            value={item.type}
            choices={(setup?.types ?? []).map(({ type }) => ({ value: type, label: type }))}
            isLocked={isLocked}
            onPick={(value) => void save({ type: value })}
          />
          <Fact label="Also owned by">
            <PeopleBoxes
              label="Also owned by"
              chosen={item.coOwnerIds}
              people={everybody.filter((person) => person.value !== item.ownerId)}
              isLocked={isLocked}
              onChange={(coOwnerIds) => void save({ coOwnerIds })}
            />
          </Fact>
          {LINE_FIELDS.filter((name) => name !== 'milestone' && shows(ITEM_FIELDS[name].use.name)).map((name) => (
            <Typed
              key={name}
              label={capitalised(ITEM_FIELDS[name].label)}
              value={item[name]}
              list={suggestionsFor(name) && `all-${suggestionsFor(name)}`}
              isLocked={isLocked}
              onDone={(value) => save({ [name]: value })}
            />
          ))}
          {shows('points') && (
            <Typed
              label="Points"
              value={item.points === null ? null : String(item.points)}
              isLocked={isLocked}
              onDone={(value) => save({ points: value === null ? null : Number(value) })}
            />
          )}
          {shows('estimate') && (
            <Typed
              label="Estimate"
              value={item.estimateMinutes === null ? null : formatMinutes(item.estimateMinutes)}
              placeholder="1h 30m"
              isLocked={isLocked}
              onDone={(value) => {
                const minutes = value === null ? null : parseDurationMinutes(value.replace(/(\d+) h (\d+)$/, '$1h $2m'))
                return minutes === null && value !== null ? Promise.resolve(false) : save({ estimateMinutes: minutes })
              }}
            />
          )}
          <Fact label="Reporter">
            {item.reporterId ? people.nameOf(item.reporterId) : (item.cameFrom ?? <span className="text-ink-3">nobody</span>)}
          </Fact>
          {shows('classification') &&
            CLASSIFICATION.map(({ field, label, choices }) => (
              <Pick
                key={field}
                label={label}
                value={item.classification?.[field] ?? ''}
                none="not said"
                choices={toChoices(choices)}
                isLocked={isLocked}
                onPick={(value) =>
                  void save({
                    classification: {
                      ...(item.classification ?? { detectedIn: null, broughtInAt: null, kind: null, effect: null }),
                      [field]: value || null,
                    } as ChangeItem['classification'],
                  })
                }
              />
            ))}
          {setup?.ownFields
            .filter((field) => field.types.length === 0 || field.types.includes(item.type))
            .map((field) => (
              <Fact key={field.fieldId} label={field.name}>
                <OwnFieldControl
                  key={JSON.stringify(item.ownValues[field.fieldId] ?? null)}
                  field={field}
                  value={item.ownValues[field.fieldId]}
                  people={me?.people ?? []}
                  disabled={isLocked}
                  className={BARE}
                  onChange={(value) => {
                    if (JSON.stringify(value) !== JSON.stringify(item.ownValues[field.fieldId] ?? null))
                      void save({ ownValues: { [field.fieldId]: value } })
                  }}
                />
              </Fact>
            ))}
          <Fact label="Who sees it">
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                disabled={isLocked}
                checked={item.isConfidential}
                onChange={(event) => void save({ isConfidential: event.target.checked })}
              />
              confidential
            </label>
            {item.isConfidential && (
              <PeopleBoxes
                label="People who may see it"
                chosen={item.namedIds}
                people={everybody}
                isLocked={isLocked}
                onChange={(namedIds) => void save({ namedIds })}
              />
            )}
          </Fact>
          <Fact label="Followers">
            {item.followerIds.length > 0 ? (
              item.followerIds.map((id) => people.nameOf(id)).join(', ')
            ) : (
              <span className="text-ink-3">nobody</span>
            )}
          </Fact>
        </div>
      )}
      {['milestones', 'sprints', 'releases', 'labels'].map((name) => (
        <datalist key={name} id={`all-${name}`}>
          {(me?.[name as 'milestones'] ?? []).map((value) => (
            <option key={value} value={value} />
          ))}
        </datalist>
      ))}
    </>
  )
}

function Pick({
  label,
  value,
  choices,
  none,
  isLocked,
  isBad = false,
  onPick,
}: {
  label: string
  value: string
  choices: readonly { value: string; label: string }[]
  none?: string
  isLocked: boolean
  isBad?: boolean
  onPick: (value: string) => void
}) {
  return (
    <Fact label={label}>
      <Choose
        aria-label={label}
        disabled={isLocked}
        value={value}
        {...(none !== undefined && { none })}
        choices={value !== '' && !choices.some((choice) => choice.value === value) ? [...choices, { value, label: value }] : choices}
        onChange={(event) => onPick(event.target.value)}
        className={`${BARE} -ml-1 ${isBad ? 'font-bold text-fault' : ''}`}
      />
    </Fact>
  )
}

/** A field that is typed: saved when it is left or with Enter, put back with Escape. */
function Typed({
  label,
  value,
  list,
  placeholder,
  hint,
  isLocked,
  onDone,
}: {
  label: string
  value: string | null
  list?: string | undefined
  /** What stands in pale words beside it. */
  hint?: string | null | undefined
  placeholder?: string
  isLocked: boolean
  onDone: (value: string | null) => Promise<boolean>
}): ReactNode {
  return (
    <Fact label={hint ? `${label} · ${hint}` : label}>
      <TextInput
        key={value ?? ''}
        aria-label={label}
        disabled={isLocked}
        defaultValue={value ?? ''}
        list={list}
        placeholder={placeholder ?? (isLocked ? '' : 'none')}
        maxLength={50}
        className={BARE}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur()
          if (event.key === 'Escape') {
            event.currentTarget.value = value ?? ''
            event.currentTarget.blur()
          }
        }}
        onBlur={(event) => {
          const field = event.currentTarget
          const typed = field.value.trim() || null
          if (typed !== value)
            void onDone(typed).then((isSaved) => {
              if (!isSaved) field.value = value ?? ''
            })
        }}
      />
    </Fact>
  )
}

function PeopleBoxes({
  label,
  chosen,
  people,
  isLocked,
  onChange,
}: {
  label: string
  chosen: readonly string[]
  people: readonly { value: string; label: string }[]
  isLocked: boolean
  onChange: (chosen: string[]) => void
}) {
  const [isOpen, setIsOpen] = useState(false)
  const names = people.filter((person) => chosen.includes(person.value)).map((person) => person.label)
  return (
    <fieldset aria-label={label} className="m-0 border-0 p-0">
      {names.join(', ') || <span className="text-ink-3">nobody</span>}{' '}
      {!isLocked && (
        <Button look="line" aria-expanded={isOpen} onClick={() => setIsOpen(!isOpen)}>
          {isOpen ? 'done' : 'change'}
        </Button>
      )}
      {isOpen &&
        people.map((person) => (
          <label key={person.value} className="flex items-center gap-1">
            <input
              type="checkbox"
              checked={chosen.includes(person.value)}
              onChange={(event) => onChange(event.target.checked ? [...chosen, person.value] : chosen.filter((id) => id !== person.value))}
            />
            {person.label}
          </label>
        ))}
    </fieldset>
  )
}

function LabelsFact({ item, isLocked, save }: { item: Item; isLocked: boolean; save: SaveItem }) {
  const [draft, setDraft] = useState<string | null>(null)
  const colours = usePeople().me?.setup.labels ?? []
  return (
    <Fact label="Labels">
      {draft === null ? (
        <>
          {item.labels.map((label) => (
            <Label key={label} text={label} colour={colours.find((known) => known.label === label)?.colour} />
          ))}
          {item.labels.length === 0 && <span className="text-ink-3">none </span>}
          {!isLocked && (
            <Button look="line" aria-label="Change labels" onClick={() => setDraft(item.labels.join(', '))}>
              change
            </Button>
          )}
        </>
      ) : (
        <TextInput
          autoFocus
          aria-label="Labels, with commas"
          list="all-labels"
          value={draft}
          onChange={(event) => setDraft(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Escape') setDraft(null)
            if (event.key === 'Enter') event.currentTarget.blur()
          }}
          onBlur={() => {
            const labels = [
              ...new Set(
                draft
                  .split(',')
                  .map((label) => label.trim())
                  .filter(Boolean),
              ),
            ]
            setDraft(null)
            if (labels.join('\n') !== item.labels.join('\n')) void save({ labels })
          }}
        />
      )}
    </Fact>
  )
}

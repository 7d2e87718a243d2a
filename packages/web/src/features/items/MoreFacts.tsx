import { ITEM_FIELDS, LINE_FIELDS, suggestionsFor } from '@dystracer/core/setup/item-fields'
import type { ChangeItem, Item } from '@dystracer/core/items/wire'
import { formatMinutes, parseDurationMinutes } from '@dystracer/core/text/duration'
import { useSetupQuery } from '#features/setup/setup.api'
import { usePeople } from '#features/people/index'
import { toChoices } from '#shared/lib/choices'
import { capitalised } from '#shared/lib/format'
import { Fact } from '#shared/ui/parts'
import { BARE, PeopleBoxes, Pick, Typed } from './fact-controls'
import { OwnFieldControl, showsField } from './item-fields'
import type { SaveItem } from './use-save'

const CLASSIFICATION = [
  { field: 'detectedIn', label: 'Detected in', choices: ['requirements', 'design', 'coding', 'review', 'test', 'operation'] },
  { field: 'broughtInAt', label: 'Brought in at', choices: ['requirements', 'design', 'coding', 'change'] },
  { field: 'kind', label: 'Kind', choices: ['missing', 'wrong', 'extra'] },
  { field: 'effect', label: 'Effect', choices: ['function', 'performance', 'security', 'usability', 'data', 'safety', 'none'] },
] as const

/** The fields of an item that few look at, the project's own among them. */
export function MoreFacts({ item, save }: { item: Item; save: SaveItem }) {
  const people = usePeople()
  const { me } = people
  const { data: setup } = useSetupQuery(item.project)
  const isLocked = !people.may('items.change', item.project)
  const shows = (field: string) => showsField(setup, item.type, field)
  const everybody = (me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))
  return (
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
      {shows('classification') && <Classification item={item} save={save} isLocked={isLocked} />}
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
  )
}

/** How the defect is classed (after IEEE 1044). */
function Classification({ item, save, isLocked }: { item: Item; save: SaveItem; isLocked: boolean }) {
  return CLASSIFICATION.map(({ field, label, choices }) => (
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
  ))
}

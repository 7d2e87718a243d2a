import type { ChangeItem, Item } from '@dystracer/core/items/wire'
import { formatMinutes } from '@dystracer/core/text/duration'
import { useState } from 'react'
import { useSetupQuery } from '#features/setup/setup.api'
import { PRIORITY_CHOICES, SEVERITIES, toChoices } from '#shared/lib/choices'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { DateInput } from '#shared/ui/DateInput'
import { Button, Fact } from '#shared/ui/parts'
import { BARE, Pick, Typed } from './fact-controls'
import { showsField } from './item-fields'
import { LabelsFact } from './LabelsFact'
import { MoreFacts } from './MoreFacts'
import type { SaveItem } from './use-save'

/** What is known of an item, each edited in place; what its type hides is left out. */
export function ItemFacts({ item, save }: { item: Item; save: SaveItem }) {
  const people = usePeople()
  const { me } = people
  const { data: setup } = useSetupQuery(item.project)
  const trail = usePaneTrail()
  const [isMore, setIsMore] = useState(false)
  const isLocked = !people.may('items.change', item.project)
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
      {isMore && <MoreFacts item={item} save={save} />}
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

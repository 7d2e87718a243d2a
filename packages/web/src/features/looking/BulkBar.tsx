import type { ChangeItem } from '@dystracer/core/items/wire'
import { SEVERITIES, toChoices } from '#shared/lib/choices'
import { usePeople } from '#features/people/index'
import { Choose } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'

/** What can be done with all rows that were chosen (Space, Shift and arrows). */
export function BulkBar({
  count,
  isBusy,
  onChange,
  onNone,
}: {
  count: number
  isBusy: boolean
  onChange: (change: ChangeItem, said: string) => void
  onNone: () => void
}) {
  const { me } = usePeople()
  return (
    <div
      role="toolbar"
      aria-label="Chosen items"
      className="flex flex-wrap items-center gap-2 border-b border-edge bg-mark px-3 py-1 text-[12px]"
    >
      <b>{count} chosen</b>
      <Choose
        aria-label="Give them to"
        className="w-auto! py-0.5!"
        value=""
        none="give to …"
        disabled={isBusy}
        choices={(me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))}
        onChange={(event) => onChange({ ownerId: event.target.value }, 'given away')}
      />
      <Choose
        aria-label="Set their severity"
        className="w-auto! py-0.5!"
        value=""
        none="severity …"
        disabled={isBusy}
        choices={SEVERITIES}
        onChange={(event) => onChange({ severity: Number(event.target.value) }, 'changed')}
      />
      <Choose
        aria-label="Set their component"
        className="w-auto! py-0.5!"
        value=""
        none="component …"
        disabled={isBusy}
        choices={toChoices(me?.components ?? [])}
        onChange={(event) => onChange({ component: event.target.value }, 'changed')}
      />
      <Choose
        aria-label="Set their milestone"
        className="w-auto! py-0.5!"
        value=""
        none="milestone …"
        disabled={isBusy}
        choices={toChoices(me?.milestones ?? [])}
        onChange={(event) => onChange({ milestone: event.target.value }, 'changed')}
      />
      <Button disabled={isBusy} onClick={() => onChange({ isArchived: true }, 'archived')}>
        Archive
      </Button>
      <Button look="text" onClick={onNone}>
        Choose none
      </Button>
    </div>
  )
}

import type { ChangeItem } from '@dystracer/core/contract/items'
import { toast } from 'sonner'
import { useBulkMutation } from '../../shared/lib/api'
import { plural } from '../../shared/lib/format'
import { problemText } from '../../shared/lib/problem-text'
import { usePeople } from '../../shared/lib/use-people'
import { Choose } from '../../shared/ui/fields'
import { Button } from '../../shared/ui/parts'
import { SEVERITIES } from './item-fields'

/** What can be done with all rows that were chosen (Space, Shift and arrows). */
export function BulkBar({ keys, onDone }: { keys: string[]; onDone: () => void }) {
  const [bulk, { isLoading }] = useBulkMutation()
  const { me } = usePeople()
  const run = async (change: ChangeItem, said: string) => {
    const result = await bulk({ keys, change })
    if (result.error) return void toast.error(problemText(result.error))
    const refused = result.data?.refused ?? []
    if (refused.length > 0) toast.error(`${plural(refused.length, 'item')} stayed as it was: ${refused[0]?.key}: ${refused[0]?.why}`)
    toast.success(`${plural(result.data?.changed ?? 0, 'item')} ${said}`)
    onDone()
  }
  return (
    <div role="toolbar" aria-label="Chosen items" className="flex flex-wrap items-center gap-2 border-b border-edge bg-mark px-3 py-1 text-[12px]">
      <b>{keys.length} chosen</b>
      <Choose
        aria-label="Give them to"
        className="w-auto! py-0.5!"
        value=""
        none="give to …"
        choices={(me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))}
        onChange={(event) => void run({ ownerId: event.target.value }, 'given away')}
      />
      <Choose
        aria-label="Set their severity"
        className="w-auto! py-0.5!"
        value=""
        none="severity …"
        choices={SEVERITIES}
        onChange={(event) => void run({ severity: Number(event.target.value) }, 'changed')}
      />
      <Button disabled={isLoading} onClick={() => void run({ isArchived: true }, 'archived')}>
        Archive
      </Button>
      <Button look="text" onClick={onDone}>
        Choose none
      </Button>
    </div>
  )
}

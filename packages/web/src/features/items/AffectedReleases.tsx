import type { Affected, Item } from '@dystracer/core/items/wire'
import { useState } from 'react'
import { plural } from '#shared/lib/format'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { usePeople } from '#features/people/index'
import { Choose } from '#shared/ui/fields'
import { PaneLink } from '#shared/ui/PaneLink'
import { Button, Pending } from '#shared/ui/parts'
import { useAffectedQuery, useSayAffectedMutation } from './items.api'

type Cell = Affected['services'][number]['releases'][number]['cells'][number]

const STATE_WORD: Record<Cell['state'], string> = { affected: 'affected', not: 'not affected', fixed: 'fixed', untried: 'not tried' }
const STATE_LOOK: Record<Cell['state'], string> = {
  affected: 'font-bold text-fault',
  not: 'text-proof',
  fixed: 'text-proof',
  untried: 'text-ink-3',
}
const VERDICTS = [
  { value: 'affected', label: 'affected' },
  { value: 'not', label: 'not' },
] as const

/** Which releases a defect is in, where they run: from its faults, tests by hand, its fix, and what people say. */
export function AffectedReleases({ item }: { item: Item }) {
  const [isOpen, setIsOpen] = useState(false)
  const { data, error, isLoading } = useAffectedQuery(item.key, { skip: !isOpen })
  return (
    <section aria-label="Affected releases" className="border-t border-edge px-4 py-2">
      <Button look="line" aria-expanded={isOpen} onClick={() => setIsOpen(!isOpen)}>
        Which releases are affected?
      </Button>
      <Pending error={error} isLoading={isLoading} />
      {isOpen && data && data.services.length === 0 && (
        <p className="text-ink-2">
          None that is known: it is tied to no fault, has no fix and no component with a service, and does not say in which release it was
          found.
        </p>
      )}
      {isOpen &&
        data?.services.map((service) => (
          <ServiceTable key={service.service} item={item} service={service} environments={data.environments} />
        ))}
    </section>
  )
}

function ServiceTable({
  item,
  service,
  environments,
}: {
  item: Item
  service: Affected['services'][number]
  environments: readonly string[]
}) {
  return (
    <table className="mt-2 w-full text-left">
      <thead>
        <tr className="text-[12px] text-ink-3">
          <th scope="col" className="font-normal">
            {service.service}
          </th>
          {environments.map((environment) => (
            <th key={environment} scope="col" className="font-normal">
              {environment}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {service.releases.length === 0 && (
          <tr>
            <td colSpan={environments.length + 1} className="text-ink-2">
              It has no release yet.
            </td>
          </tr>
        )}
        {service.releases.map(({ release, cells }) => (
          <tr key={release} className="border-t border-edge-soft align-top">
            <th scope="row" className="py-1 font-normal">
              <PaneLink to={{ kind: 'release', id: `${service.service}@${release}` }}>{release}</PaneLink>
            </th>
            {cells.map((cell) => (
              <td key={cell.environment} className="py-1">
                <AffectedCell item={item} service={service.service} release={release} cell={cell} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** One cell: how it stands and why; whoever may change the item says otherwise by choosing. */
function AffectedCell({ item, service, release, cell }: { item: Item; service: string; release: string; cell: Cell }) {
  const { may, nameOf } = usePeople()
  const [say, { isLoading }] = useSayAffectedMutation()
  const why =
    cell.ground === 'seen'
      ? `seen ${plural(cell.count, 'time')} there`
      : cell.ground === 'tested'
        ? `tried by hand by ${nameOf(cell.by)}`
        : cell.ground === 'said'
          ? `said by ${nameOf(cell.by)}`
          : cell.ground === 'fix'
            ? 'the fix is in it'
            : cell.ground === 'found-in'
              ? 'found in it'
              : ''
  const words = (
    <span className={STATE_LOOK[cell.state]} title={why}>
      {STATE_WORD[cell.state]}
    </span>
  )
  if (!may('items.change', item.project))
    return (
      <>
        {words} <span className="text-[12px] text-ink-2">{why}</span>
      </>
    )
  return (
    <span className="block">
      <span className="flex items-baseline gap-2">
        {words}
        <Choose
          aria-label={`What is said of ${service} ${release} in ${cell.environment}`}
          className="w-[72px]! shrink-0 border-0! px-0! py-0! text-[12px] text-ink-2"
          disabled={isLoading}
          none="say…"
          value={cell.said ?? ''}
          choices={VERDICTS}
          onChange={(event) =>
            void say({
              key: item.key,
              service,
              release,
              environment: cell.environment,
              verdict: (event.target.value as string) === '' ? null : event.target.value,
            }).then(tellRefusal)
          }
        />
      </span>
      <span className="block text-[12px] text-ink-2">{why}</span>
    </span>
  )
}

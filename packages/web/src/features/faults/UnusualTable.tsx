import type { Unusual } from '@dystracer/core/faults/causes-wire'
import { plural } from '#shared/lib/format'
import { SectionHead } from '#shared/ui/parts'
import { useUnusualQuery } from './faults.api'

/** What a fault has more often than what else its service does; nothing is shown where nothing stands out. */
export function UnusualTable({ fault }: { fault: string }) {
  const { data } = useUnusualQuery(fault)
  if (!data || data.rows.length === 0) return null
  return (
    <section aria-label="What is unusual about it" className="border-t border-edge px-4 py-3">
      <SectionHead>What is unusual about it</SectionHead>
      <table className="w-full text-left">
        <thead className="text-[12px] text-ink-3">
          <tr>
            <th className="font-normal">it has</th>
            <th className="text-right font-normal">here</th>
            <th className="text-right font-normal">{data.against === 'traffic' ? 'in all work' : 'in other faults'}</th>
            <th className="text-right font-normal">as often</th>
          </tr>
        </thead>
        <tbody>
          {data.rows.map((row) => (
            <tr key={`${row.attribute} ${row.value}`} className="border-t border-edge-soft">
              <td className="py-0.5 pr-2 break-all">
                <span className="text-ink-2">{row.attribute}</span> <b>{row.value}</b>
              </td>
              <td className="pr-2 text-right whitespace-nowrap">{shareOf(row.own, row.ownOf)}</td>
              <td className="pr-2 text-right whitespace-nowrap">{shareOf(row.base, row.baseOf)}</td>
              <td className="text-right whitespace-nowrap">
                <b>{times(row.ratio)}</b>{' '}
                <span className="text-[12px] text-ink-2">
                  ({times(row.from)} to {times(row.to)})
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1 text-[12px] text-ink-3">
        {plural(data.looked, 'occurrence')}{' '}
        {data.against === 'traffic' ? 'against the work of the service in the same hours' : 'against its other faults: it tells of no work'}
      </p>
    </section>
  )
}

function shareOf(count: number, of: number): string {
  if (count === of) return `all ${of}`
  const percent = (100 * count) / of
  return `${percent < 10 ? percent.toPrecision(2) : Math.round(percent)} % of ${of}`
}

function times(ratio: Unusual['rows'][number]['ratio']): string {
  return `${ratio < 10 ? ratio.toPrecision(2) : Math.round(ratio)} ×`
}

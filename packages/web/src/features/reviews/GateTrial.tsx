import type { GateTrial as Trial } from '@dystracer/core/reviews/wire'
import { plural } from '#shared/lib/format'
import { Pending } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useGateTrialQuery } from './reviews.api'

const NEEDS: Record<number, string> = { 1: 'one person agrees', 2: 'two people agree' }
const GATE: Partial<Record<Trial['rows'][number]['code'], string>> = {
  build: 'its build passed',
  settled: 'every remark is settled',
  item: 'an item is tied',
  owners: 'those who look after its files agree',
  requirement: 'a requirement asks for it',
  suspects: 'no tie to a requirement waits to be looked at',
  time: 'time is logged',
  findings: 'it brings no new finding',
  quality: 'it brings no new bug',
}

function wordsOf({ code, needs }: Trial['rows'][number]): string | undefined {
  if (code === 'agreements') return NEEDS[needs]
  return code === 'coverage' ? `tests run ${needs} of a hundred lines that it brings` : GATE[code]
}

/** What each gate would have stopped among the newest merges of a repository, and which of those did harm. */
export function GateTrial({ repository }: { repository: string }) {
  const { data, error, isLoading } = useGateTrialQuery(repository)
  if (!data) return <Pending error={error} isLoading={isLoading} />
  if (data.merges === 0) return <p className="m-0 text-ink-2">Nothing was merged here yet.</p>
  return (
    <div className="w-full text-[12px]">
      <p className="m-0 text-ink-2">
        Of the newest {plural(data.merges, 'merge')}, {data.harmful.length} later turned out to have brought in a defect. A gate would have
        stopped:
      </p>
      <table className="w-full text-left">
        <tbody>
          {data.rows.map((row) => (
            <tr key={`${row.code}${row.needs}`} className="border-b border-edge-soft">
              <td className="py-0.5 pr-3">{wordsOf(row)}</td>
              <td className="pr-3">{row.stopped.length === 0 ? 'none' : plural(row.stopped.length, 'merge')}</td>
              <td className={row.harmful.length > 0 ? 'text-fault' : 'text-ink-3'}>
                {row.harmful.length === 0 ? 'none of the harmful ones' : `${row.harmful.length} that did harm: `}
                {row.harmful.slice(0, 5).map((number) => (
                  <ThingLink key={number} to={{ kind: 'pull-request', id: `${repository}/${number}` }} className="mr-2">
                    {number}
                  </ThingLink>
                ))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

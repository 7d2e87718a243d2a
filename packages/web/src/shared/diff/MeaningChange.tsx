import { plural } from '#shared/lib/format'
import { Pending, Quiet } from '#shared/ui/parts'
import { useMeaningQuery, type MeaningOf } from './meaning.api'

/** How a file is read by what it means, by its name; null for one that is lines and nothing else. */
export function formOf(path: string): MeaningOf['form'] | null {
  if (/\.(?:json|geojson|ipynb)$/i.test(path)) return 'json'
  return /\.(?:csv|tsv)$/i.test(path) ? 'table' : null
}

/** What a change did to a JSON file or a table: where, what stood there and what does; spacing and the order of members are no change. */
export function MeaningChange({ path, ...of }: MeaningOf & { path: string }) {
  const { data, error, isLoading } = useMeaningQuery(of)
  if (!data) return <Pending error={error} isLoading={isLoading} />
  if (data.why !== null) return <Quiet>It cannot be compared by what it means: {data.why}.</Quiet>
  if (data.total === 0) return <Quiet>It means the same as before: only its spacing or the order of its members changed.</Quiet>
  return (
    <div className="overflow-x-auto p-3">
      <table aria-label={`What changed in ${path}`} className="w-full border-collapse text-[12px]">
        <thead>
          <tr className="text-left text-ink-2">
            {['where', 'before', 'after'].map((head) => (
              <th key={head} scope="col" className="border-b border-edge py-1 pr-4 font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="font-mono">
          {data.changes.map(({ at, before, after }) => (
            // Two changes may be at one place, such as columns that came.
            <tr key={`${at}\n${before}\n${after}`} className="border-b border-edge-soft align-top">
              <th scope="row" className="py-1 pr-4 text-left font-normal">
                {at}
              </th>
              <Side text={before} look="bg-fault-soft" none="was not there" />
              <Side text={after} look="bg-proof-soft" none="is gone" />
            </tr>
          ))}
        </tbody>
      </table>
      {data.total > data.changes.length && <Quiet>{plural(data.total - data.changes.length, 'more change')} not shown here.</Quiet>}
    </div>
  )
}

function Side({ text, look, none }: { text: string | null; look: string; none: string }) {
  return (
    <td className="max-w-[320px] py-1 pr-4 break-words">
      {text === null ? (
        <span className="font-sans text-ink-3">{none}</span>
      ) : (
        <span className={look}>{text === '' ? '(empty)' : text}</span>
      )}
    </td>
  )
}

import { ThingLink } from '#shared/ui/ThingLink'
import { When } from '#shared/ui/parts'

const ROWS_MAX = 40

/** The numbers of a chart, the newest first, each with a link to its build. */
export function BuildTable({
  repository,
  columns,
  rows,
}: {
  repository: string
  columns: readonly string[]
  rows: readonly { number: number; name: string; atMs: number; values: readonly string[] }[]
}) {
  return (
    <details className="text-[12px]">
      <summary className="link min-h-6">as a table</summary>
      <table>
        <thead>
          <tr>
            {['build', 'when', ...columns].map((column) => (
              <th key={column} className="pr-4 text-left font-normal">
                {column}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows
            .slice(-ROWS_MAX)
            .reverse()
            .map(({ number, name, atMs, values }) => (
              <tr key={number}>
                <td className="pr-4">
                  <ThingLink to={{ kind: 'build', id: `${repository}/${number}` }}>{name}</ThingLink>
                </td>
                <td className="pr-4">
                  <When atMs={atMs} />
                </td>
                {values.map((value, at) => (
                  <td key={columns[at]} className="pr-4">
                    {value}
                  </td>
                ))}
              </tr>
            ))}
        </tbody>
      </table>
    </details>
  )
}

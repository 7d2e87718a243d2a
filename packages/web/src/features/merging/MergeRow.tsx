import { groupBy } from '@dystracer/core/basics/group-by'
import type { MergeWaiting } from '@dystracer/core/merging/wire'
import { gateInWords } from '@dystracer/core/reviews/gate-words'
import { usePeople } from '#features/people/index'
import { Pending, Quiet, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useMergesWaitingQuery } from './merging.api'

/** Changes that are merged by themselves once all holds: a row for each base, in the order in which they are taken. */
export function MergeRow() {
  const { data, error, isLoading } = useMergesWaitingQuery()
  const lines = groupBy(data?.rows ?? [], ({ repository, base }) => `${repository}, into ${base}`)
  return (
    <div className="h-full overflow-y-auto">
      <Pending error={error} isLoading={isLoading} />
      {data?.rows.length === 0 && (
        <Quiet>Nothing waits to be merged. A pull request is wanted merged in its pane; it is then, by itself, once all holds.</Quiet>
      )}
      {[...lines].map(([line, rows]) => (
        <section key={line} aria-label={line} className="border-b border-edge px-3 py-2">
          <SectionHead>{line}</SectionHead>
          <ol className="m-0 list-none p-0">
            {rows.map((row, at) => (
              <Line key={row.number} row={row} place={at + 1} />
            ))}
          </ol>
        </section>
      ))}
    </div>
  )
}

function Line({ row, place }: { row: MergeWaiting; place: number }) {
  const { nameOf } = usePeople()
  return (
    <li className="flex items-baseline gap-3 border-b border-edge-soft py-1.5">
      <span className="w-6 shrink-0 text-right font-mono text-[12px] text-ink-3">{place}</span>
      <span className="min-w-0 flex-1">
        <ThingLink to={{ kind: 'pull-request', id: `${row.repository}/${row.number}` }}>
          {row.number} {row.title}
        </ThingLink>
        <span className="block text-[12px] text-ink-2">
          by {row.author}; {nameOf(row.by)} wants it merged since <When atMs={row.atMs} />
        </span>
        <span className="block text-[12px]">
          {row.unmet.length === 0 ? (
            <span className="text-proof">all holds</span>
          ) : (
            <span className="text-ochre">
              {row.unmet.map((gate) => gateInWords(gate, (personId) => nameOf(`person:${personId}`))).join('; ')}
            </span>
          )}
          {row.trial && <> · {trialWords(row.trial)}</>}
        </span>
      </span>
    </li>
  )
}

const BUILD_WORDS: Record<string, string> = { passed: 'passed', broke: 'broke', stopped: 'was stopped', running: 'is running' }

/** How a change does on top of those before it. */
function trialWords({ ahead, build, state }: NonNullable<MergeWaiting['trial']>): string {
  const on = ahead.length === 0 ? 'alone' : `with ${ahead.join(', ')}`
  if (build === null) return `merged ${on}; its build has not begun`
  return `merged ${on}; build ${build} ${BUILD_WORDS[state ?? ''] ?? state ?? ''}`
}

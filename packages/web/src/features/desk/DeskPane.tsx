import type { Desk } from '@dystracer/core/desk/wire'
import { HandPanel } from '#features/hand/index'
import { FirstSteps } from './FirstSteps'
import { Tour } from './Tour'
import { useDeskQuery } from './desk.api'
import { age, plural } from '#shared/lib/format'
import { usePeople } from '#features/people/index'
import { segmentOf, type Segment } from '#shared/lib/trail'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Drift, Pending, Quiet, When } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { Stair } from '#shared/ui/Stair'

const WHY: Record<Desk['waiting'][number]['why'], string> = {
  answer: 'answer',
  overdue: 'overdue',
  decide: 'decide',
  approve: 'approve',
  review: 'review',
  agree: 'agree',
  make: 'make',
  'build-broke': 'broke',
  'came-back': 'came back',
  fix: 'fix',
  verify: 'verify',
}
const BAD = new Set(['build-broke', 'came-back', 'overdue'])
type Row =
  | Desk['waiting'][number]
  | { why: null; ref: { kind: 'item'; id: string }; title: string; detail: string; atMs: number; item: Desk['working'][number]['item'] }

/** Where what waits is seen to: a decision and a train in panes of their own, everything else where the thing is. */
function segmentFor({ why, ref }: Row): Segment {
  if (why === 'decide') return { kind: 'decision', id: ref.id }
  return why === 'make' ? { kind: 'train', id: ref.id } : segmentOf(ref)
}

export function DeskPane() {
  const { data, error, isLoading } = useDeskQuery()
  const trail = usePaneTrail()
  const { me } = usePeople()
  if (!data)
    return (
      <Pane label="Desk" title="Desk">
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  const working: Row[] = data.working.map(({ item, sinceMs }) => ({
    why: null,
    ref: { kind: 'item', id: item.key },
    title: item.title,
    detail: item.key,
    atMs: sinceMs,
    item,
  }))
  const rows: Row[] = [...data.waiting, ...working]
  const selected = rows.find((row) => segmentFor(row).kind === trail.next?.kind && row.ref.id === trail.next.id)
  const idOf = (row: Row) => `${row.why ?? 'working'}:${row.ref.kind}:${row.ref.id}`
  return (
    <Pane label="Desk" title="Desk" note={me?.person ? me.person.name : 'what waits for anybody'}>
      <div className="flex h-full flex-col">
        <HandPanel />
        {me && <Tour stops={me.tour} />}
        {data.missing.length > 0 && <FirstSteps missing={data.missing} />}
        {data.unexplained > 0 && (
          <p className="border-b border-edge px-4 py-2">
            {plural(data.unexplained, 'commit')} of the last week came to the main line without an item:{' '}
            <button type="button" className="link min-h-6" onClick={() => trail.open({ kind: 'code', id: 'unexplained' })}>
              say what they are for
            </button>
          </p>
        )}
        <div className="min-h-0 flex-1">
          {rows.length === 0 ? (
            <Quiet>Nothing waits for you. What needs your decision, review or hand will stand here.</Quiet>
          ) : (
            <RowList
              label="Desk"
              rows={rows}
              rowHeightPx={46}
              idOf={idOf}
              selectedId={selected ? idOf(selected) : null}
              onShow={(row, isStep) => trail.open(segmentFor(row), { isStep })}
              headOf={(row, before) =>
                before === undefined || (row.why === null) !== (before.why === null) ? (
                  <div className="border-b border-edge px-3 pt-3 pb-1 font-bold">{row.why === null ? 'Under way' : 'Waits for a hand'}</div>
                ) : null
              }
              renderRow={(row) => (
                <div className="flex min-w-0 flex-1 items-center gap-3 py-1">
                  <span
                    className={`w-[64px] shrink-0 font-mono text-[12px]
                      ${row.why && BAD.has(row.why) ? 'font-bold text-fault' : 'text-ink-2'}`}
                  >
                    {row.why ? WHY[row.why] : row.ref.id}
                  </span>
                  <span className="min-w-0 flex-1">
                    <span className="block truncate font-medium">{row.title}</span>
                    <span className="block truncate text-[12px] text-ink-2">
                      {row.why ? `${row.ref.kind === 'item' ? `${row.ref.id} · ` : ''}${row.detail}` : `in work for ${age(row.atMs)}`}
                    </span>
                  </span>
                  {row.item?.hasDrift && <Drift />}
                  {row.item && <Stair stair={row.item.stair} hasComeBack={row.item.hasComeBack} />}
                  <span className="w-[70px] shrink-0 text-right text-[12px] text-ink-3">
                    <When atMs={row.atMs} />
                  </span>
                </div>
              )}
            />
          )}
        </div>
      </div>
    </Pane>
  )
}

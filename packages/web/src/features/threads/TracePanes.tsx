import type { ThreadAnswer } from '@dystracer/core/threads/wire'
import { layoutThread } from '@dystracer/core/threads/layout'
import { THREAD_COLUMNS, type ThreadColumn, type ThreadNode } from '@dystracer/core/threads/thread'
import { useLayoutEffect, useMemo, useRef, useState } from 'react'
import { useThreadQuery } from './threads.api'
import { fullDate, plural } from '#shared/lib/format'
import { usePeople } from '#features/people/index'
import { segmentOf } from '#shared/lib/trail'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, When } from '#shared/ui/parts'
import { historyText } from '#features/history/index'
import { RequirementTable } from '#features/requirements/index'

const COLUMN_TITLE: Record<ThreadColumn, string> = {
  requirement: 'Requirement',
  items: 'Items',
  code: 'Code',
  review: 'Review & builds',
  release: 'Release',
  running: 'Running in',
}
const TONE: Record<ThreadNode['tone'], string> = {
  proof: 'border-proof',
  fault: 'border-fault bg-fault-soft',
  ochre: 'border-ochre bg-ochre-soft',
  plain: 'border-ink-3',
  missing: 'border-dashed border-fault text-ink-2',
}
const PROVENANCE: Record<string, string> = {
  person: 'by a person',
  commit: 'stated in a commit',
  'branch-name': 'by branch name',
  'pull-request': 'stated in a pull request',
  rule: 'by a rule',
  import: 'by import',
  likeness: 'matched by likeness',
  git: 'read from git',
  report: 'by a test report',
  deployment: 'by a deployment',
}

export function TracePane() {
  const trail = usePaneTrail()
  return (
    <Pane
      label="Trace"
      title="Trace"
      note="by requirement"
      aside={
        <Button look="text" onClick={() => trail.open({ kind: 'matrix', id: '' })}>
          matrix
        </Button>
      }
    >
      <RequirementTable label="Trace" opens="thread" />
    </Pane>
  )
}

export function ThreadPane({ id }: { id: string }) {
  const { data, error, isLoading } = useThreadQuery(id)
  if (!data)
    return (
      <Pane label="Thread" title="Thread">
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  const start = data.nodes.find((node) => node.id === data.start)
  const count = (kind: string) => data.nodes.filter((node) => node.ref?.kind === kind).length
  return (
    <Pane
      label="Thread"
      title={
        <>
          <span className="font-mono text-[13px] font-normal">{data.start.replace(/^\w[\w-]*:/, '')}</span>{' '}
          <span className={start?.ref?.kind === 'requirement' ? 'font-serif' : ''}>{start?.subtitle}</span>
        </>
      }
    >
      <p className="flex gap-6 border-b border-edge px-4 py-2">
        <span>
          <b>{count('item')}</b> {count('item') === 1 ? 'item' : 'items'}
        </span>
        <span>
          <b>{count('commit')}</b> in code
        </span>
        <span>
          <b>{count('test')}</b> {count('test') === 1 ? 'proof' : 'proofs'}
        </span>
        <span className={data.gaps.length > 0 ? 'text-fault' : ''}>
          <b>{data.gaps.length}</b> {data.gaps.length === 1 ? 'gap' : 'gaps'}
        </span>
      </p>
      <ThreadDrawing thread={data} />
      <ThreadHistory thread={data} />
    </Pane>
  )
}

function ThreadDrawing({ thread }: { thread: ThreadAnswer }) {
  const frame = useRef<HTMLDivElement>(null)
  const [widthPx, setWidthPx] = useState(860)
  // The drawing takes the width that the pane has.
  useLayoutEffect(() => {
    const element = frame.current
    if (!element) return
    const observer = new ResizeObserver(() => setWidthPx(Math.max(700, element.clientWidth - 32)))
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  const layout = useMemo(() => layoutThread(thread.nodes, thread.edges, { widthPx }), [thread, widthPx])
  const edgeByPath = new Map(thread.edges.map((edge) => [`${edge.from}\n${edge.to}`, edge]))
  const nodeById = new Map(thread.nodes.map((node) => [node.id, node]))
  const used = new Set(thread.nodes.map((node) => node.column))
  return (
    <div ref={frame} className="overflow-x-auto border-b border-edge px-4 py-3">
      <div className="relative" style={{ width: layout.widthPx, height: layout.heightPx + 34 }}>
        {THREAD_COLUMNS.map((column, index) => (
          <span
            key={column}
            className={`absolute top-0 text-[12px] ${used.has(column) ? 'text-ink-2' : 'text-ink-3'}`}
            style={{ left: layout.columnXPx[index] }}
          >
            {COLUMN_TITLE[column]}
          </span>
        ))}
        <svg aria-hidden="true" className="absolute left-0" style={{ top: 26 }} width={layout.widthPx} height={layout.heightPx + 8}>
          {layout.paths.map((path) => {
            const edge = edgeByPath.get(`${path.from}\n${path.to}`)
            return (
              <path
                key={`${path.from}${path.to}`}
                d={path.d}
                fill="none"
                stroke={edge?.tone === 'proof' ? 'var(--proof)' : 'var(--fault)'}
                strokeWidth={edge?.tone === 'fault' ? 2 : 1}
                strokeDasharray={
                  edge?.tone === 'missing'
                    ? '4 3'
                    : edge?.provenance === 'likeness' || edge?.provenance === 'branch-name'
                      ? '2 2'
                      : undefined
                }
              >
                <title>{`${edge?.kind}: ${PROVENANCE[edge?.provenance ?? ''] ?? ''}`}</title>
              </path>
            )
          })}
        </svg>
        {layout.boxes.map((box) => {
          const node = nodeById.get(box.id)
          return node ? (
            <NodeBox
              key={box.id}
              node={node}
              style={{ left: box.xPx, top: box.yPx + 26, width: box.widthPx, height: box.heightPx }}
              edges={thread.edges}
            />
          ) : null
        })}
      </div>
      <p className="mt-2 flex gap-5 text-[12px] text-ink-2">
        <span>── stated</span>
        <span>┄┄ matched or by branch name</span>
        <span className="text-fault">━━ breaks</span>
        <span className="text-fault">╌╌ missing</span>
      </p>
    </div>
  )
}

function NodeBox({ node, style, edges }: { node: ThreadNode; style: React.CSSProperties; edges: ThreadAnswer['edges'] }) {
  const trail = usePaneTrail()
  const { nameOf } = usePeople()
  const why = edges
    .filter((edge) => edge.to === node.id)
    .map(
      (edge) =>
        `${edge.kind}: ${PROVENANCE[edge.provenance] ?? edge.provenance}${
          edge.statedBy ? ` (${nameOf(edge.statedBy)})` : ''
        }${edge.atMs ? `, ${fullDate(edge.atMs)}` : ''}`,
    )
    .join('\n')
  const look = `absolute overflow-hidden rounded-[3px] border bg-sheet px-2 py-1 text-left ${TONE[node.tone]}`
  const content = (
    <>
      <span className="block truncate text-[12px] font-bold">{node.title}</span>
      <span className="block truncate text-[12px] text-ink-2">{node.subtitle}</span>
    </>
  )
  const { ref } = node
  if (!ref)
    return (
      <div className={look} style={style} title={why}>
        {content}
      </div>
    )
  return (
    <button type="button" className={look} style={style} title={why} onClick={() => trail.open(segmentOf(ref))}>
      <span className="sr-only">{ref.kind} </span>
      {content}
    </button>
  )
}

function ThreadHistory({ thread }: { thread: ThreadAnswer }) {
  const { nameOf } = usePeople()
  return (
    <ol aria-label="What happened" className="m-0 list-none p-0">
      {thread.history.map((entry) => (
        <li key={entry.seq} className="grid grid-cols-[84px_1fr_150px] gap-2 border-b border-edge-soft px-4 py-1.5">
          <span className="font-mono text-[12px] text-ink-3">
            <When atMs={entry.atMs} />
          </span>
          <span className="min-w-0 break-words">
            <b>{nameOf(entry.by)}</b> {historyText(entry, nameOf)}{' '}
            <span className="text-ink-3">{entry.subject.replace(/^\w[\w-]*:/, '')}</span>
          </span>
          <span className="truncate text-[12px] text-ink-2">{entry.cause}</span>
        </li>
      ))}
      {thread.history.length === 0 && <li className="px-4 py-2 text-ink-3">{plural(0, 'event')} yet</li>}
    </ol>
  )
}

import type { FileDetail, FileRun } from '@dystracer/core/files/wire'
import { useVirtualizer } from '@tanstack/react-virtual'
import { type KeyboardEvent, useEffect, useMemo, useRef } from 'react'
import { plural } from '#shared/lib/format'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Pending, Quiet, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { FileFacts } from './FileFacts'
import { useFileQuery } from './files.api'

const LINE_PX = 20

/** A file as its main line has it; the chosen line tells who asked for it. */
export function FilePane({ id }: { id: string }) {
  const { repository, path, line } = placeIn(id)
  const { data, error, isLoading } = useFileQuery({ repository, path })
  const trail = usePaneTrail()
  const choose = (to: number) => trail.rename(`${repository}/${path}:${to}`)
  const run = data?.runs.find((each) => line !== null && each.line <= line && line <= each.lastLine)
  return (
    <Pane
      label={`File ${path}`}
      title={
        <>
          <span className="font-mono text-[13px]">{path.slice(path.lastIndexOf('/') + 1)}</span>{' '}
          <span className="text-[13px] font-normal text-ink-2">
            {repository}/{path.slice(0, Math.max(0, path.lastIndexOf('/')))}
          </span>
        </>
      }
      foot={data && line !== null && <WhoAsked line={line} run={run} file={data} />}
    >
      <Pending error={error} isLoading={isLoading} />
      {data && (
        <div className="flex h-full flex-col">
          <FileFacts file={data} />
          {data.isBinary && <Quiet>It is no text. Its commits and items stand above.</Quiet>}
          {data.isCut && (
            <Quiet>It is too long to be shown here ({Math.round(data.sizeBytes / 1024)} KiB). Its commits and items stand above.</Quiet>
          )}
          {!data.isBinary && !data.isCut && <Lines file={data} line={line} onLine={choose} />}
        </div>
      )}
    </Pane>
  )
}

/** Lines with the item that asked for them beside each run; arrows go from line to line. Only those on screen are drawn. */
function Lines({ file, line, onLine }: { file: FileDetail; line: number | null; onLine: (line: number) => void }) {
  const scroller = useRef<HTMLDivElement>(null)
  const lines = useMemo(() => file.text.replace(/\n$/, '').split('\n'), [file.text])
  const runAt = useMemo(() => {
    const at = new Map<number, FileRun>()
    for (const run of file.runs) for (let each = run.line; each <= run.lastLine; each++) at.set(each, run)
    return at
  }, [file.runs])
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE_PX,
    overscan: 20,
  })
  const first = useRef(line)
  // A line that was named in the address is brought into sight once.
  useEffect(() => {
    if (first.current !== null) virtual.scrollToIndex(first.current - 1, { align: 'center' })
  }, [virtual])
  const onKeyDown = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    if (by === undefined) return
    event.preventDefault()
    const next = Math.min(lines.length, Math.max(1, (line ?? 0) + by))
    onLine(next)
    virtual.scrollToIndex(next - 1)
  }
  return (
    <div
      ref={scroller}
      role="listbox"
      aria-label="Lines"
      aria-activedescendant={line === null ? undefined : `line-${line}`}
      tabIndex={0}
      onKeyDown={onKeyDown}
      className="min-h-0 flex-1 overflow-auto border-t border-edge font-mono text-[12px] leading-[20px]"
    >
      <div className="relative min-w-max" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const run = runAt.get(index + 1)
          const isFirst = run?.line === index + 1
          return (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the list takes the keys
            <div
              key={index}
              id={`line-${index + 1}`}
              role="option"
              tabIndex={-1}
              aria-selected={line === index + 1}
              onClick={() => onLine(index + 1)}
              style={{ transform: `translateY(${start}px)`, height: LINE_PX }}
              className={`absolute left-0 flex w-full cursor-pointer
                ${line === index + 1 ? 'bg-mark' : 'hover:bg-paper'} ${isFirst && index > 0 ? 'border-t border-edge-soft' : ''}`}
            >
              <span className={`w-[84px] shrink-0 truncate pl-3 ${run?.requirements.length ? 'text-proof' : 'text-ink-3'}`}>
                {isFirst ? (run.items[0] ?? '') : ''}
              </span>
              <span className="w-[44px] shrink-0 pr-3 text-right text-ink-3">{index + 1}</span>
              <span className="whitespace-pre">{lines[index]}</span>
            </div>
          )
        })}
      </div>
    </div>
  )
}

/** Who asked for a line: the commit that it came with, its items, and the requirements behind them. */
function WhoAsked({ line, run, file }: { line: number; run: FileRun | undefined; file: FileDetail }) {
  if (!run) return <p className="m-0 text-ink-2">Nobody can say whom line {line} came with.</p>
  const titles = new Map(file.items.map((item) => [item.key, item.title]))
  return (
    <section aria-label={`Who asked for line ${line}`} className="space-y-1">
      <p className="m-0 leading-6">
        {run.line === run.lastLine ? `Line ${line}` : `Lines ${run.line}–${run.lastLine}`} came with{' '}
        <ThingLink to={{ kind: 'commit', id: `${file.repository}/${run.sha}` }}>{run.sha.slice(0, 7)}</ThingLink> {run.subject}
        <span className="text-ink-2">
          {' '}
          · {run.author}, <When atMs={run.atMs} />
        </span>
      </p>
      {run.items.map((key) => (
        <p key={key} className="m-0 leading-6">
          for <ThingLink to={{ kind: 'item', id: key }} /> {titles.get(key)}
        </p>
      ))}
      {run.items.length === 0 && <p className="m-0 text-ochre">No item asked for it.</p>}
      {run.requirements.length > 0 && (
        <p className="m-0 leading-6">
          asked for by{' '}
          {run.requirements.map((key) => (
            <ThingLink key={key} to={{ kind: 'requirement', id: key }} className="mr-2" />
          ))}
        </p>
      )}
      {run.items.length > 0 && run.requirements.length === 0 && (
        <p className="m-0 text-ink-2">No requirement stands behind {plural(run.items.length, 'this item', 'these items')}.</p>
      )}
    </section>
  )
}

/** `repository/path:12`: the line is left out where none is chosen. */
function placeIn(id: string): { repository: string; path: string; line: number | null } {
  const slash = id.indexOf('/')
  const match = /^(.*?)(?::(\d{1,7}))?$/s.exec(id.slice(slash + 1))
  return { repository: id.slice(0, slash), path: match?.[1] ?? '', line: match?.[2] ? Number(match[2]) : null }
}

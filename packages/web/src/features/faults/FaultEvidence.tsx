import type { BlamedFrame } from '@dystracer/core/faults/wire'
import { useState } from 'react'
import { plural } from '#shared/lib/format'
import { Pending, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useFaultFramesQuery, useFaultQuery } from './faults.api'

/** What happened and where: message, first and last seen, own frames with source and who last changed them. */
export function FaultEvidence({ fault }: { fault: string }) {
  const { data, error, isLoading } = useFaultQuery(fault)
  const frames = useFaultFramesQuery(fault)
  if (!data) return <Pending error={error} isLoading={isLoading} />
  return (
    <>
      <div className="px-4 py-3">
        <p className="font-mono text-[13px] break-words">{data.message}</p>
        <p className="mt-1 text-ink-2">
          {plural(data.occurrences, 'time')}, {plural(data.peopleHit, 'person', 'people')} hit. First seen{' '}
          <When atMs={data.firstSeenAtMs} /> in <b>{[data.service, data.byRelease[0]?.release].filter(Boolean).join(' ')}</b>, last{' '}
          <When atMs={data.lastSeenAtMs} />. {data.environments.join(', ')}.
        </p>
      </div>
      <div className="border-t border-edge px-4 py-3">
        <SectionHead>Where it broke</SectionHead>
        {frames.data ? (
          <FrameList frames={frames.data.frames} repository={data.repository} />
        ) : (
          <Pending error={frames.error} isLoading={frames.isLoading} />
        )}
      </div>
    </>
  )
}

/** Own frames; the source of the innermost one stands open, that of the others unfolds. */
function FrameList({ frames, repository }: { frames: readonly BlamedFrame[]; repository: string | null }) {
  const [isOpen, setIsOpen] = useState(false)
  const innermost = frames.find((frame) => frame.source.length > 0)
  const foreign = frames.filter((frame) => !frame.isApp).length
  return (
    <ol aria-label="Frames" className="m-0 list-none p-0">
      {frames
        .filter((frame) => frame.isApp || isOpen)
        .map((frame) => (
          <FrameRow
            key={`${frame.function}${frame.file}${frame.line}${frame.column}`}
            frame={frame}
            repository={repository}
            isInnermost={frame === innermost}
          />
        ))}
      {foreign > 0 && (
        <li>
          <button type="button" className="link px-2 text-[12px]" onClick={() => setIsOpen(!isOpen)}>
            {isOpen ? 'fold' : `${plural(foreign, 'frame')} not ours, show`}
          </button>
        </li>
      )}
    </ol>
  )
}

function FrameRow({ frame, repository, isInnermost }: { frame: BlamedFrame; repository: string | null; isInnermost: boolean }) {
  const [isOpen, setIsOpen] = useState(isInnermost)
  return (
    <li className={frame.isApp ? 'mb-1 bg-paper' : 'mb-1 text-ink-3'}>
      <div className="flex flex-wrap justify-between gap-x-3 px-2 py-1 font-mono text-[12px]">
        <span className="break-all">
          {frame.function ?? '(anonymous)'}{' '}
          <span className="text-ink-2">
            {frame.path ?? frame.file}:{frame.line}
          </span>
        </span>
        <span className="ml-auto">
          {frame.blame && repository && (
            <>
              {frame.blame.items.map((key) => (
                <ThingLink key={key} to={{ kind: 'item', id: key }} className="mr-2" />
              ))}
              <ThingLink to={{ kind: 'commit', id: `${repository}/${frame.blame.sha}` }} /> {frame.blame.author},{' '}
              <When atMs={frame.blame.atMs} />
            </>
          )}
          {frame.source.length > 0 && (
            <button type="button" className="link ml-2" aria-expanded={isOpen} onClick={() => setIsOpen(!isOpen)}>
              source
            </button>
          )}
        </span>
      </div>
      {isOpen && frame.source.length > 0 && (
        <pre className="m-0 px-2 pb-1 font-mono text-[12px] break-words whitespace-pre-wrap">
          {frame.source.map((row) => (
            <div key={row.line} className={`pl-[5ch] -indent-[5ch] ${row.line === frame.line ? 'bg-fault-soft' : 'text-ink-2'}`}>
              {String(row.line).padStart(4)} {row.text}
            </div>
          ))}
        </pre>
      )}
    </li>
  )
}

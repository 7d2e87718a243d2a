import type { CommitRemark } from '@dystracer/core/reviews/wire'
import { useState, type ReactNode } from 'react'
import { usePeople } from '#features/people/index'
import { tellRefusal } from '#shared/lib/tell-refusal'
import type { WithLines } from '#shared/diff/DiffRendered'
import { type DiffLine, keyOfLine, pathOfFile } from '#shared/diff/DiffFile'
import { Button, SectionHead } from '#shared/ui/parts'
import { RemarkForm } from '#shared/diff/RemarkForm'
import { Thread } from '#shared/diff/Thread'
import { useCommitRemarksQuery, useRemarkOnCommitMutation, useReactToCommitRemarkMutation, useSettleCommitRemarkMutation } from './code.api'

type Place = NonNullable<CommitRemark['place']>

/** What is remarked on the lines of a commit, where they stand, and the form for a line that is chosen. */
export function useRemarksOnLines(id: string): WithLines {
  const { data } = useCommitRemarksQuery(id)
  const { me, may } = usePeople()
  const [remark] = useRemarkOnCommitMutation()
  const [chosen, setChosen] = useState<Place | null>(null)
  const canWrite = may('code.contribute') && me?.person != null
  const write = async (place: Place, text: string) => {
    const result = await remark({ id, text, place })
    tellRefusal(result)
    if (!result.error) setChosen(null)
  }
  return (file) => {
    const path = pathOfFile(file)
    const below = new Map<string, ReactNode[]>()
    const put = (line: DiffLine, node: ReactNode) => {
      const key = keyOfLine(file, line)
      if (key !== null) below.set(key, [...(below.get(key) ?? []), node])
    }
    for (const one of data?.rows ?? [])
      if (one.place?.path === path)
        put(
          { side: one.place.side, line: one.place.lastLine },
          <RemarkOnCommit key={one.remarkId} id={id} remark={one} canWrite={canWrite} />,
        )
    if (chosen?.path === path)
      put(
        { side: chosen.side, line: chosen.lastLine },
        <RemarkForm
          project={me?.project.prefix ?? ''}
          key="form"
          label={`Your remark on line ${chosen.line}`}
          deed="Remark"
          onCancel={() => setChosen(null)}
          onWritten={({ text }) => void write(chosen, text)}
        />,
      )
    return {
      selected: chosen?.path === path ? chosen : null,
      widgets: Object.fromEntries([...below].map(([key, nodes]) => [key, <div key={key}>{nodes}</div>])),
      ...(canWrite && {
        onLine: (line: DiffLine, isMore: boolean) =>
          setChosen((before) =>
            isMore && before?.path === path && before.side === line.side
              ? { ...before, line: Math.min(before.line, line.line), lastLine: Math.max(before.lastLine, line.line) }
              : { path, side: line.side, line: line.line, lastLine: line.line },
          ),
      }),
    }
  }
}

/** What is remarked on a commit as a whole, and on lines that its diff does not show. */
export function CommitRemarks({ id, paths }: { id: string; paths: readonly string[] }) {
  const { data } = useCommitRemarksQuery(id)
  const { me, may } = usePeople()
  const [remark] = useRemarkOnCommitMutation()
  const [isWriting, setIsWriting] = useState(false)
  const canWrite = may('code.contribute') && me?.person != null
  const rows = (data?.rows ?? []).filter(({ place }) => place === null || !paths.includes(place.path))
  const inLines = (data?.rows.length ?? 0) - rows.length
  if (!canWrite && rows.length === 0) return null
  const write = async (text: string) => {
    const result = await remark({ id, text })
    tellRefusal(result)
    if (!result.error) setIsWriting(false)
  }
  return (
    <section aria-label="Remarks" className="pb-2">
      <div className="px-4">
        <SectionHead>Remarks</SectionHead>
      </div>
      {rows.map((one) => (
        <RemarkOnCommit key={one.remarkId} id={id} remark={one} canWrite={canWrite} />
      ))}
      {isWriting && (
        <RemarkForm
          project={me?.project.prefix ?? ''}
          label="Your remark on the whole"
          deed="Remark"
          onCancel={() => setIsWriting(false)}
          onWritten={({ text }) => void write(text)}
        />
      )}
      <p className="m-0 flex flex-wrap items-baseline gap-x-3 px-4 text-[12px] text-ink-2">
        {canWrite && !isWriting && (
          <Button look="line" onClick={() => setIsWriting(true)}>
            Remark on the whole…
          </Button>
        )}
        {canWrite && <span>a line’s number remarks on that line, with Shift on several</span>}
        {inLines > 0 && <span>{inLines} on lines below</span>}
      </p>
    </section>
  )
}

/** A remark on a commit with its answers, and which lines it is about. */
export function RemarkOnCommit({ id, remark, canWrite }: { id: string; remark: CommitRemark; canWrite: boolean }) {
  const { me, nameOf } = usePeople()
  const [react] = useReactToCommitRemarkMutation()
  const [settle] = useSettleCommitRemarkMutation()
  const [write, { isLoading }] = useRemarkOnCommitMutation()
  const { remarkId, place } = remark
  return (
    <Thread
      project={me?.project.prefix ?? ''}
      remark={remark}
      nameOf={nameOf}
      mine={me?.person?.personId}
      canWrite={canWrite}
      isSending={isLoading}
      head={
        place && (
          <p className="m-0 text-[12px] text-ink-3">
            line {place.line}
            {place.lastLine > place.line && ` to ${place.lastLine}`} of <span className="font-mono">{place.path}</span>
            {place.side === 'old' && ', before it'}
          </p>
        )
      }
      onAnswer={(text) => write({ id, text, replyTo: remarkId })}
      onSettle={(isSettled) => settle({ id, remarkId, isSettled })}
      onReact={(to, body) => react({ id, remarkId: to, ...body })}
    />
  )
}

import type { CommitRemark } from '@dystracer/core/reviews/wire'
import type { ReactNode } from 'react'
import type { FileData } from 'react-diff-view'
import { RemarkOnCommit } from '#features/code/index'
import { useCommitRemarksQuery, useRemarkOnCommitMutation } from '#features/code/code.api'
import { usePeople } from '#features/people/index'
import { linesInWords, usePendingRemarks, widgetsOf } from '#features/reviews/index'
import { useReviewQuery } from '#features/reviews/reviews.api'
import { DiffFile, keyOfLine, pathOfFile, type DiffLine, type DiffLines } from '#shared/diff/DiffFile'
import { RemarkForm } from '#shared/diff/RemarkForm'
import { plural } from '#shared/lib/format'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { ThingLink } from '#shared/ui/ThingLink'
import { hasSameLeft, type PlacedFile } from './placed-files'

interface StrandLinesProps {
  of: PlacedFile
  isSplit: boolean
  canWrite: boolean
  selected: DiffLines | null
  isWriting: boolean
  onLine: (line: DiffLine, isMore: boolean) => void
  onClose: () => void
}

/**
 * The lines of one file of the whole, with what is remarked on them. A remark is heard where the lines stand as they are here: in the open
 * pull request that brings them, with the review of it; else at the last commit that changed them.
 */
export function StrandLines(props: StrandLinesProps) {
  const { strand, isAgain } = props.of
  return (
    <>
      <FromCommits of={props.of} isAgain={isAgain} />
      {strand.pullRequest === null ? <AtCommit {...props} /> : <InPullRequest {...props} number={strand.pullRequest} />}
    </>
  )
}

/** Which commits made a file so, where they are not all of the repository's. */
function FromCommits({ of: { part, strand }, isAgain }: { of: PlacedFile; isAgain: boolean }) {
  if (!isAgain && strand.shas.length === part.commits.length) return null
  return (
    <p className="m-0 px-4 py-1 text-[12px] text-ink-2">
      {isAgain && 'once more, after others changed it: '}
      {strand.shas.length > 3
        ? `by ${plural(strand.shas.length, 'commit')}`
        : strand.shas.map((sha, at) => (
            <span key={sha}>
              {at > 0 && ', '}
              <ThingLink to={{ kind: 'commit', id: `${part.repository}/${sha}` }}>{sha.slice(0, 7)}</ThingLink>{' '}
              {part.commits.find((commit) => commit.sha === sha)?.subject}
            </span>
          ))}
    </p>
  )
}

/** The file itself; a line of the left side can be chosen only where whoever hears of it has that side so, too. */
function Lines({
  of,
  isSplit,
  selected,
  onLine,
  widgets,
}: Pick<StrandLinesProps, 'of' | 'isSplit' | 'selected' | 'onLine'> & { widgets: Record<string, ReactNode> }) {
  const isBoth = hasSameLeft(of)
  return (
    <DiffFile
      file={of.file}
      repository={of.part.repository}
      viewType={isSplit ? 'split' : 'unified'}
      selected={selected}
      onLine={(line, isMore) => (isBoth || line.side === 'new') && onLine(line, isMore)}
      widgets={widgets}
    />
  )
}

function InPullRequest({ of, number, isSplit, canWrite, selected, isWriting, onLine, onClose }: StrandLinesProps & { number: number }) {
  const id = `${of.part.repository}/${number}`
  const { data } = useReviewQuery(id)
  const { me } = usePeople()
  const pending = usePendingRemarks(id)
  const isBoth = hasSameLeft(of)
  const path = pathOfFile(of.file)
  return (
    <Lines
      of={of}
      isSplit={isSplit}
      selected={selected}
      onLine={onLine}
      widgets={widgetsOf({
        project: me?.project.prefix ?? '',
        id,
        file: of.file,
        remarks: (data?.remarks ?? []).filter(({ place }) => isBoth || place?.side === 'new'),
        canWrite,
        pending,
        form: isWriting && selected ? { ...selected, path } : null,
        onClose,
      })}
    />
  )
}

function AtCommit({ of, isSplit, canWrite, selected, isWriting, onLine, onClose }: StrandLinesProps) {
  const id = `${of.part.repository}/${of.strand.shas.at(-1)}`
  const { data } = useCommitRemarksQuery(id)
  const { me } = usePeople()
  const [remark] = useRemarkOnCommitMutation()
  const isBoth = hasSameLeft(of)
  const path = pathOfFile(of.file)
  const here = (data?.rows ?? []).filter(({ place }) => place?.path === path && (isBoth || place.side === 'new'))
  const write = async (place: DiffLines, text: string) => {
    const result = await remark({ id, text, place: { ...place, path } })
    tellRefusal(result)
    if (!result.error) onClose()
  }
  const form = isWriting && selected && (
    <RemarkForm
      project={me?.project.prefix ?? ''}
      key="form"
      label={`Remark on ${linesInWords(selected)} of ${path}`}
      deed="Remark"
      onCancel={onClose}
      onWritten={({ text }) => void write({ side: selected.side, line: selected.line, lastLine: selected.lastLine }, text)}
    />
  )
  return (
    <Lines
      of={of}
      isSplit={isSplit}
      selected={selected}
      onLine={onLine}
      widgets={belowLines(of.file, [
        ...here.map((one) => [lastOf(one), <RemarkOnCommit key={one.remarkId} id={id} remark={one} canWrite={canWrite} />] as const),
        ...(form && selected ? [[{ side: selected.side, line: selected.lastLine }, form] as const] : []),
      ])}
    />
  )
}

function lastOf({ place }: CommitRemark): DiffLine {
  return { side: place?.side ?? 'new', line: place?.lastLine ?? 0 }
}

/** What stands below lines, by the keys that the diff gives them. */
function belowLines(file: FileData, nodes: readonly (readonly [DiffLine, ReactNode])[]): Record<string, ReactNode> {
  const below = new Map<string, ReactNode[]>()
  for (const [line, node] of nodes) {
    const key = keyOfLine(file, line)
    if (key !== null) below.set(key, [...(below.get(key) ?? []), node])
  }
  return Object.fromEntries([...below].map(([key, all]) => [key, <div key={key}>{all}</div>]))
}

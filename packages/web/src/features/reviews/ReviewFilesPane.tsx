import type { Remark, Review } from '@dystracer/core/reviews/wire'
import { useMemo, useState } from 'react'
import { parseDiff, type FileData } from 'react-diff-view'
import { usePullRequestDiffQuery, usePullRequestQuery } from '#features/code/code.api'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { DiffFile, pathOfFile } from '#shared/diff/DiffFile'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet } from '#shared/ui/parts'
import { usePendingRemarks } from './pending.slice'
import { placeNow, widgetsOf } from './remark-widgets'
import { RemarkThread } from './RemarkThread'
import { ReviewedFile } from './ReviewedFile'
import { TakeProposed } from './TakeProposed'
import { useChangedCoverageQuery, useReviewQuery } from './reviews.api'
import { reviewKeys } from './review-keys'
import { domIdOf, useChosenLines } from './use-chosen-lines'
import { useSeenFiles } from './use-seen-files'
import { VerdictDialog } from './VerdictDialog'

/** The files of a change, line by line, with what people remark on them; remarks are gathered and sent at once. */
export function ReviewFilesPane({ id }: { id: string }) {
  const pullRequest = usePullRequestQuery(id)
  const diff = usePullRequestDiffQuery({ id, headSha: pullRequest.data?.headSha ?? '' }, { skip: !pullRequest.data })
  const review = useReviewQuery(id)
  const { data: coverage } = useChangedCoverageQuery(id)
  const coverageBy = useMemo(
    () => new Map(coverage?.files.map(({ path, covered, missed }) => [path, { covered: new Set(covered), missed: new Set(missed) }])),
    [coverage],
  )
  const { me, may } = usePeople()
  const files = useMemo(() => (diff.data ? parseDiff(diff.data.diff) : []), [diff.data])
  const lines = useChosenLines(files)
  const { selected, choose } = lines
  const [isWriting, setIsWriting] = useState(false)
  const [isSplit, setIsSplit] = useState(false)
  const [verdict, setVerdict] = useState<'agreed' | 'changes-asked' | 'remarked' | null>(null)
  const seen = useSeenFiles(id)
  const pending = usePendingRemarks(id)
  const canWrite = may('code.contribute') && me?.person != null
  const isOpen = pullRequest.data?.state === 'open'
  const proposed = (review.data?.remarks ?? [])
    .filter((remark) => !remark.isSettled && remark.now && remark.instead !== null)
    .map(({ remarkId }) => remarkId)
  const onKeys = reviewKeys({
    files,
    lines,
    seen,
    canWrite,
    canJudge: isOpen && canWrite,
    onWriting: setIsWriting,
    onVerdict: setVerdict,
  })
  return (
    <>
      <Pane
        label={`Files of ${id}`}
        onKeys={onKeys}
        title={
          <>
            {plural(files.length, 'file')}{' '}
            <span className="text-[13px] font-normal text-ink-2">
              {plural(files.filter((file) => seen.isSeen(file)).length, 'file')} seen
              {coverage && coverage.covered + coverage.missed > 0 && (
                <>
                  , {coverage.covered} of {plural(coverage.covered + coverage.missed, 'measured line')} run by tests
                </>
              )}
            </span>
          </>
        }
        aside={
          <Button look="text" aria-pressed={isSplit} onClick={() => setIsSplit(!isSplit)}>
            {isSplit ? 'one column' : 'side by side'}
          </Button>
        }
        foot={
          canWrite && (
            <div className="flex items-baseline gap-3">
              {isOpen && <Button onClick={() => setVerdict('remarked')}>Say what you found…</Button>}
              {isOpen && proposed.length > 1 && (
                <TakeProposed id={id} remarkIds={proposed} label={`Take all ${proposed.length} proposals`} />
              )}
              <span className="text-ink-2">
                {pending.remarks.length > 0
                  ? `your remarks are sent together: ${pending.remarks.length} not sent yet`
                  : 'choose a line’s number to remark on it, with Shift several lines'}
              </span>
            </div>
          )
        }
      >
        <Pending error={diff.error ?? review.error ?? pullRequest.error} isLoading={diff.isLoading || review.isLoading} />
        {diff.data?.isCut && <Quiet>The diff is longer than what is shown here; git has all of it.</Quiet>}
        {diff.data && files.length === 0 && <Quiet>It changes no file.</Quiet>}
        {files.map((file) => (
          <ReviewedFile
            key={pathOfFile(file)}
            id={domIdOf(pathOfFile(file))}
            repository={id.slice(0, id.indexOf('/'))}
            file={file}
            isSeen={seen.isSeen(file)}
            onSeen={() => seen.turn(file)}
          >
            <DiffFile
              file={file}
              repository={id.slice(0, id.lastIndexOf('/'))}
              viewType={isSplit ? 'split' : 'unified'}
              coverage={coverageBy.get(pathOfFile(file)) ?? null}
              selected={selected?.path === pathOfFile(file) ? selected : null}
              onLine={(line, isMore) => {
                choose({ ...line, lastLine: line.line, path: pathOfFile(file) }, isMore)
                setIsWriting(canWrite)
              }}
              widgets={widgetsOf({
                project: me?.project.prefix ?? '',
                id,
                file,
                remarks: review.data?.remarks ?? [],
                canWrite,
                pending,
                form: isWriting ? selected : null,
                onClose: () => setIsWriting(false),
              })}
            />
          </ReviewedFile>
        ))}
        {/* Not before the lines are known: a remark would move to its line, and an answer begun meanwhile be lost. */}
        {!diff.isLoading && !diff.isUninitialized && (
          <Elsewhere id={id} files={files} remarks={review.data?.remarks ?? []} canWrite={canWrite} />
        )}
      </Pane>
      {verdict && review.data && (
        <VerdictDialog id={id} begin={verdict} canAgree={isIn(review.data, me?.person?.personId)} onClose={() => setVerdict(null)} />
      )}
    </>
  )
}

function isIn(review: Review, personId: string | undefined): boolean {
  return personId !== undefined && review.canAgree.includes(personId)
}

/** Remarks on the whole, and those whose lines are gone: they keep the place where they were made. */
function Elsewhere({
  id,
  files,
  remarks,
  canWrite,
}: {
  id: string
  files: readonly FileData[]
  remarks: readonly Remark[]
  canWrite: boolean
}) {
  const left = remarks.filter((remark) => placeNow(files, remark) === null)
  if (left.length === 0) return null
  return (
    <section aria-label="Remarks on the whole, and on lines that changed since" className="border-t border-edge py-2">
      {left.map((remark) => (
        <div key={remark.remarkId}>
          {remark.place && (
            <p className="m-0 px-4 pt-1 text-[12px] text-ink-3">
              on line {remark.place.line} of <span className="font-mono">{remark.place.path}</span> as {remark.place.sha.slice(0, 7)} had it
            </p>
          )}
          <RemarkThread id={id} remark={remark} canWrite={canWrite} />
        </div>
      ))}
    </section>
  )
}

import { useMemo, useState } from 'react'
import { usePeople } from '#features/people/index'
import { domIdOf, ReviewedFile, reviewKeys, useChosenLines, useSeenFiles } from '#features/reviews/index'
import { pathOfFile } from '#shared/diff/DiffFile'
import { plural } from '#shared/lib/format'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { JudgeDialog } from './JudgeDialog'
import { PartHead } from './PartHead'
import { placeFiles } from './placed-files'
import { StrandLines } from './StrandLines'
import { useWholeChangeQuery } from './whole-change.api'

/** All that was changed for an item, over all repositories, file by file; what is open among it is judged in one go. */
export function WholeChangePane({ id }: { id: string }) {
  const { data, error, isLoading } = useWholeChangeQuery(id)
  const { me, may } = usePeople()
  const files = useMemo(() => (data ? placeFiles(data) : []), [data])
  const placed = useMemo(() => files.map((each) => each.placed), [files])
  const lines = useChosenLines(placed)
  const { selected, choose } = lines
  const [isWriting, setIsWriting] = useState(false)
  const [isSplit, setIsSplit] = useState(false)
  const [verdict, setVerdict] = useState<'agreed' | 'changes-asked' | 'remarked' | null>(null)
  const seen = useSeenFiles(`whole/${id}`)
  const canWrite = may('code.contribute') && me?.person != null
  const open = (data?.parts ?? []).flatMap(({ repository, pullRequests }) =>
    pullRequests.filter(({ state }) => state === 'open').map((each) => ({ ...each, id: `${repository}/${each.number}` })),
  )
  const canJudge = canWrite && open.length > 0
  const onKeys = reviewKeys({ files: placed, lines, seen, canWrite, canJudge, onWriting: setIsWriting, onVerdict: setVerdict })
  return (
    <>
      <Pane
        label={`The whole change of ${id}`}
        onKeys={onKeys}
        title={data ? `All of ${id}` : 'All of it'}
        note={
          data &&
          [
            `${plural(files.length, 'file')} in ${plural(data.parts.length, 'repository', 'repositories')}`,
            `${placed.filter(seen.isSeen).length} seen`,
          ].join(', ')
        }
        aside={
          <Button look="text" aria-pressed={isSplit} onClick={() => setIsSplit(!isSplit)}>
            {isSplit ? 'one column' : 'side by side'}
          </Button>
        }
        foot={
          canWrite &&
          files.length > 0 && (
            <div className="flex items-baseline gap-3">
              {canJudge && <Button onClick={() => setVerdict('remarked')}>Say what you found…</Button>}
              <span className="text-ink-2">choose a line’s number to remark on it, with Shift several lines</span>
            </div>
          )
        }
      >
        <Pending error={error} isLoading={isLoading} />
        {data && (
          <p className="m-0 px-4 pt-3 pb-1">
            <ThingLink to={{ kind: 'item', id }} /> {data.title}
          </p>
        )}
        {data?.parts.length === 0 && <Quiet>Nothing in code is tied to it yet: a commit that names it will stand here.</Quiet>}
        {data?.isShort && <Quiet>It has more commits than are read here; the newest of each repository are shown.</Quiet>}
        {data?.parts.map((part) => (
          <section key={part.repository} aria-label={part.repository} className="mb-3">
            <PartHead part={part} />
            {files
              .filter((each) => each.part === part)
              .map((each) => {
                const path = pathOfFile(each.placed)
                return (
                  <ReviewedFile
                    key={path}
                    id={domIdOf(path)}
                    repository={part.repository}
                    file={each.file}
                    isSeen={seen.isSeen(each.placed)}
                    onSeen={() => seen.turn(each.placed)}
                  >
                    <StrandLines
                      of={each}
                      isSplit={isSplit}
                      canWrite={canWrite}
                      selected={selected?.path === path ? selected : null}
                      isWriting={isWriting}
                      onLine={(line, isMore) => {
                        choose({ ...line, lastLine: line.line, path }, isMore)
                        setIsWriting(canWrite)
                      }}
                      onClose={() => setIsWriting(false)}
                    />
                  </ReviewedFile>
                )
              })}
          </section>
        ))}
      </Pane>
      {verdict && <JudgeDialog itemKey={id} begin={verdict} open={open} onClose={() => setVerdict(null)} />}
    </>
  )
}

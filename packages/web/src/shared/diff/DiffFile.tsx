import { useMemo, useState, type ReactNode } from 'react'
import { Diff, Hunk, markEdits, tokenize, type ChangeData, type FileData, type GutterOptions, type ViewType } from 'react-diff-view'
import { Button } from '#shared/ui/parts'
import { formOf, MeaningChange } from './MeaningChange'
import type { MeaningOf } from './meaning.api'
import { isPicturePath, PictureChange } from './PictureChange'

/** Words inside changed lines are marked in files up to so many lines; in longer ones that would keep the page waiting. */
const MARKED_LINES_MAX = 2000

/** A line of a side of a file, as remarks name it. */
export interface DiffLine {
  side: 'old' | 'new'
  line: number
}

/** Lines of one side that follow each other; one alone where `lastLine` is the same. */
export interface DiffLines extends DiffLine {
  lastLine: number
}

/** Lines of a file after the change: those that tests ran, and those that could have been run and were not. */
export interface LineCoverage {
  covered: ReadonlySet<number>
  missed: ReadonlySet<number>
}

/** What a file of a diff is shown with. */
export interface DiffFileProps {
  file: FileData
  /** The repository that it is of: pictures are had from there. */
  repository: string
  viewType?: ViewType
  /** What stands below a line, by the keys that `keyOfLine` gives. */
  widgets?: Record<string, ReactNode>
  /** Which lines of the new side tests ran, and which they did not. */
  coverage?: LineCoverage | null
  /** The lines that keys act on. */
  selected?: DiffLines | null
  /** `isMore` where the lines chosen before are to reach to this one (a click with Shift). */
  onLine?: (line: DiffLine, isMore: boolean) => void
}

/**
 * One file of a diff: a picture as one, a vector picture also as its text, what has a meaning also by that, everything else line by line.
 */
export function DiffFile(props: DiffFileProps) {
  const { file, repository } = props
  const path = pathOfFile(file)
  // Where somebody remarked on a line, its text is shown until something else is asked for.
  const [asked, setAsked] = useState<'text' | 'picture' | null>(null)
  const isText = asked === null ? Object.keys(props.widgets ?? {}).length > 0 : asked === 'text'
  const revision = (hash: string | undefined) => (hash === undefined || /^0*$/.test(hash) ? null : hash)
  const sides = { path, repository, before: revision(file.oldRevision), after: revision(file.newRevision) }
  const isPicture = isPicturePath(path) && (sides.before !== null || sides.after !== null)
  // A change without lines is one of what git takes for no text, or of a name or mode alone, or a file that is empty.
  const isNoText = file.hunks.length === 0 && sides.before !== sides.after && !isEmptied(sides)
  if (isNoText)
    return isPicture ? <PictureChange {...sides} /> : <p className="px-3 py-2 text-ink-2">It is no text; its content changed.</p>
  const form = formOf(path)
  if (!isPicture && form !== null && sides.before !== null && sides.after !== null)
    return <WithMeaning {...props} {...{ form, before: sides.before, after: sides.after }} />
  if (!isPicture) return <Lines {...props} />
  return (
    <>
      <p className="px-3 pt-2">
        <Button look="line" onClick={() => setAsked(isText ? 'picture' : 'text')}>
          {isText ? 'as a picture' : 'as text'}
        </Button>
      </p>
      {isText ? <Lines {...props} /> : <PictureChange {...sides} />}
    </>
  )
}

/** Line by line, and by what the lines mean when that is asked for. */
function WithMeaning({ form, before, after, ...props }: DiffFileProps & Omit<MeaningOf, 'repository'>) {
  const [isMeaning, setIsMeaning] = useState(false)
  return (
    <>
      <p className="m-0 px-3 pt-2">
        <Button look="line" aria-pressed={isMeaning} onClick={() => setIsMeaning(!isMeaning)}>
          {isMeaning ? 'line by line' : 'by what it means'}
        </Button>
      </p>
      {isMeaning ? (
        <MeaningChange repository={props.repository} path={pathOfFile(props.file)} form={form} before={before} after={after} />
      ) : (
        <Lines {...props} />
      )}
    </>
  )
}

/** The hash of nothing, as git names it. */
const OF_NOTHING = 'e69de29bb2d1d6434b8b29ae775ad8c2e48c5391'
function isEmptied({ before, after }: { before: string | null; after: string | null }): boolean {
  return [before, after].every((hash) => hash === null || hash === OF_NOTHING)
}

/** Line numbers, changed words marked, in one column or two. A click on a line's number chooses it, with Shift all up to it. */
function Lines({ file, viewType = 'unified', widgets = {}, coverage = null, selected = null, onLine }: DiffFileProps) {
  const { hunks } = file
  const tokens = useMemo(() => {
    const lines = hunks.reduce((count, hunk) => count + hunk.changes.length, 0)
    return lines > MARKED_LINES_MAX ? null : tokenize(hunks, { enhancers: [markEdits(hunks, { type: 'block' })] })
  }, [hunks])
  return (
    <Diff
      viewType={viewType}
      diffType={file.type}
      hunks={hunks}
      tokens={tokens}
      widgets={widgets}
      {...(coverage && { renderGutter: (options) => <CoveredGutter {...options} coverage={coverage} /> })}
      selectedChanges={selected ? keysOfLines(file, selected) : []}
      gutterEvents={onLine ? { onClick: ({ change, side }, event) => change && onLine(lineOf(change, side), event.shiftKey) } : {}}
    >
      {(shown) => shown.map((hunk) => <Hunk key={hunk.content} hunk={hunk} />)}
    </Diff>
  )
}

/** A line's number with the stroke of what ran it: thick where a test did, broken where none does, nothing where nothing is known. */
function CoveredGutter({ change, side, renderDefault, wrapInAnchor, coverage }: GutterOptions & { coverage: LineCoverage }) {
  const number = wrapInAnchor(renderDefault())
  const line = side === 'new' ? lineOf(change, side) : null
  if (line === null || line.side !== 'new') return <>{number}</>
  const isCovered = coverage.covered.has(line.line)
  if (!isCovered && !coverage.missed.has(line.line)) return <>{number}</>
  const words = isCovered ? 'run by tests' : 'run by no test'
  return (
    <>
      <span
        role="img"
        aria-label={words}
        title={words}
        className={`mr-1 inline-block h-[14px] w-0 align-middle
          ${isCovered ? 'border-l-[3px] border-proof' : 'border-l-2 border-dashed border-fault'}`}
      />
      {number}
    </>
  )
}

/** The line of a change as one of its sides numbers it: what was taken out stands on the old side alone. */
export function lineOf(change: ChangeData, side: 'old' | 'new' = 'new'): DiffLine {
  if (change.type === 'insert') return { side: 'new', line: change.lineNumber }
  if (change.type === 'delete') return { side: 'old', line: change.lineNumber }
  return side === 'old' ? { side, line: change.oldLineNumber } : { side, line: change.newLineNumber }
}

/** The key by which the diff knows a line (as `getChangeKey` makes it); null where the diff does not show it. */
export function keyOfLine(file: FileData, { side, line }: DiffLine): string | null {
  for (const hunk of file.hunks)
    for (const change of hunk.changes) {
      if (change.type === 'insert' && side === 'new' && change.lineNumber === line) return `I${line}`
      if (change.type === 'delete' && side === 'old' && change.lineNumber === line) return `D${line}`
      if (change.type === 'normal' && (side === 'new' ? change.newLineNumber : change.oldLineNumber) === line)
        return `N${change.oldLineNumber}`
    }
  return null
}

/** The keys of those of some lines that the diff shows. */
export function keysOfLines(file: FileData, { side, line, lastLine }: DiffLines): string[] {
  return Array.from({ length: lastLine - line + 1 }, (_, at) => keyOfLine(file, { side, line: line + at })).filter((key) => key !== null)
}

/** What some lines say, as far as the diff shows them; the sign of a change left out. */
export function textOfLines(file: FileData, { side, line, lastLine }: DiffLines): string {
  return file.hunks
    .flatMap((hunk) => hunk.changes)
    .filter((change) => {
      const at = lineOf(change, side)
      return at.side === side && line <= at.line && at.line <= lastLine
    })
    .map((change) => change.content)
    .join('\n')
}

/** The path of a file after the change; before it, where it was taken out. */
export function pathOfFile(file: FileData): string {
  return file.type === 'delete' ? file.oldPath : file.newPath
}

/** How many lines came and went. */
export function countsOf(file: FileData): { added: number; removed: number } {
  const changes = file.hunks.flatMap((hunk) => hunk.changes)
  return { added: changes.filter(({ type }) => type === 'insert').length, removed: changes.filter(({ type }) => type === 'delete').length }
}

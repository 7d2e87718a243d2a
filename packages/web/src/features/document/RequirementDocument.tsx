import { placeAfterMove, type DocumentMove } from '@dystracer/core/requirements/document-moves'
import { chapterNumbers } from '@dystracer/core/requirements/document-order'
import { plainText } from '@dystracer/core/requirements/plain-text'
import type { Requirement } from '@dystracer/core/requirements/wire'
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { usePlaceRequirementMutation } from '#features/requirements/requirements.api'
import { plural } from '#shared/lib/format'
import { actionOf } from '#shared/lib/keys'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { usePaneTrail } from '#shared/lib/use-trail'
import { SentenceEditor, type Edited } from './SentenceEditor'

const MOVES = { in: 'in', out: 'out', up: 'up', down: 'down' } as const satisfies Record<DocumentMove, DocumentMove>
const NOWHERE: Record<DocumentMove, string> = {
  in: 'There is nothing before it on its level to stand below.',
  out: 'It stands on the first level already.',
  up: 'It is the first on its level already.',
  down: 'It is the last on its level already.',
}

/**
 * Requirements as a document: prose, with its key to the left and what stands for it to the right. Arrows go from sentence to sentence;
 * with Alt they move the sentence, `e` writes it anew in place, `n` writes one behind it.
 */
export function RequirementDocument({ rows }: { rows: readonly Requirement[] }) {
  const trail = usePaneTrail()
  const mayWrite = usePeople().may('requirements.write')
  const root = useRef<HTMLOListElement>(null)
  const [edited, setEdited] = useState<Edited | null>(null)
  const [toFocus, setToFocus] = useState<string | null>(null)
  const [place] = usePlaceRequirementMutation()
  const numbers = useMemo(() => chapterNumbers(rows), [rows])
  const depths = useMemo(() => depthsOf(rows), [rows])
  const shown = trail.next?.kind === 'requirement' ? trail.next.id : null
  // A sentence that was moved or written keeps the keyboard: the page has it at its new place only now.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the rows are what it waits for
  useEffect(() => {
    if (toFocus === null || edited !== null) return
    const sentences = [...(root.current?.querySelectorAll<HTMLElement>('[data-sentence]') ?? [])]
    const found = sentences.find((sentence) => sentence.dataset.sentence === toFocus)
    if (!found) return
    found.focus()
    setToFocus(null)
  }, [toFocus, edited, rows])
  // A move is reckoned from where things stand after the one before: keys that come meanwhile wait.
  const [moves, setMoves] = useState<readonly { key: string; way: DocumentMove }[]>([])
  const movedFrom = useRef<readonly Requirement[] | null>(null)
  useEffect(() => {
    const [first] = moves
    if (first === undefined || movedFrom.current === rows) return
    movedFrom.current = null
    setMoves((now) => now.slice(1))
    const to = placeAfterMove(rows, first.key, first.way)
    if (to === null) {
      toast(NOWHERE[first.way])
      return
    }
    movedFrom.current = rows
    void place({ key: first.key, ...to }).then((result) => {
      tellRefusal(result)
      setToFocus(first.key)
      if (!result.error) return
      // Nothing moved: what waits is reckoned from the same rows.
      movedFrom.current = null
      setMoves((now) => [...now])
    })
  }, [moves, rows, place])
  const done = (key: string, goesOn = false) => {
    setEdited(goesOn ? { key, isNew: true } : null)
    setToFocus(key)
  }
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    const sentences = [...event.currentTarget.querySelectorAll<HTMLElement>('[data-sentence]')]
    const from = sentences.indexOf(document.activeElement as HTMLElement)
    const key = sentences[from]?.dataset.sentence
    const action = actionOf('document', event)
    if (action && key !== undefined && mayWrite) {
      event.preventDefault()
      event.stopPropagation()
      if (action === 'edit' || action === 'next') setEdited({ key, isNew: action === 'next' })
      else setMoves((now) => [...now, { key, way: MOVES[action] }])
      return
    }
    if (event.altKey || (event.key !== 'ArrowDown' && event.key !== 'ArrowUp')) return
    const next = sentences[from + (event.key === 'ArrowDown' ? 1 : -1)]
    if (!next) return
    event.preventDefault()
    next.focus()
    trail.open({ kind: 'requirement', id: next.dataset.sentence ?? '' }, { isStep: from >= 0 })
  }
  const beforeOf = (row: Requirement) => rows.filter((one) => one.parent === row.parent && !one.isHeading && !one.isRetired)
  const editor = (row: Requirement) => {
    const level = beforeOf(row)
    return (
      <SentenceEditor
        key={`${row.key} ${edited?.isNew}`}
        row={row}
        isNew={edited?.isNew ?? false}
        before={level[level.indexOf(row) - 1] ?? null}
        onDone={done}
      />
    )
  }
  return (
    <ol ref={root} aria-label="The document" className="m-0 list-none p-0 py-2" onKeyDown={onKeyDown}>
      {rows.map((row) => (
        <li key={row.key} className="[contain-intrinsic-size:auto_60px] [content-visibility:auto]">
          {edited?.key === row.key && !edited.isNew ? (
            <Indented row={row} depth={depths.get(row.key) ?? 0}>
              {editor(row)}
            </Indented>
          ) : (
            <Sentence
              row={row}
              number={numbers.get(row.key)}
              depth={depths.get(row.key) ?? 0}
              isShown={row.key === shown}
              onShow={() => trail.open({ kind: 'requirement', id: row.key })}
            />
          )}
          {edited?.key === row.key && edited.isNew && (
            <Indented row={null} depth={depths.get(row.key) ?? 0}>
              {editor(row)}
            </Indented>
          )}
        </li>
      ))}
    </ol>
  )
}

/** How deep each stands below sentences: chapters say so by their numbers. */
function depthsOf(rows: readonly Requirement[]): Map<string, number> {
  const depths = new Map<string, number>()
  const byKey = new Map(rows.map((row) => [row.key, row]))
  for (const row of rows) {
    const above = row.parent === null ? undefined : byKey.get(row.parent)
    depths.set(row.key, above === undefined || above.isHeading ? 0 : (depths.get(above.key) ?? 0) + 1)
  }
  return depths
}

function Indented({ row, depth, children }: { row: Requirement | null; depth: number; children: React.ReactNode }) {
  return (
    <div className="flex items-start gap-3 bg-mark px-3 py-1" style={{ paddingLeft: `${12 + depth * 24}px` }}>
      <span className="w-[52px] shrink-0 pt-[7px] text-right font-mono text-[12px] text-ink-2">{row?.key}</span>
      {children}
    </div>
  )
}

function Sentence({
  row,
  number,
  depth,
  isShown,
  onShow,
}: {
  row: Requirement
  number: string | undefined
  depth: number
  isShown: boolean
  onShow: () => void
}) {
  return (
    <button
      type="button"
      data-sentence={row.key}
      aria-current={isShown}
      onClick={onShow}
      style={{ paddingLeft: `${12 + depth * 24}px` }}
      className={`@container flex w-full items-start gap-3 px-3 text-left hover:bg-mark
        ${row.isHeading ? 'pt-3 pb-1' : 'py-1.5'} ${isShown ? 'bg-mark' : ''}`}
    >
      <span className="w-[52px] shrink-0 pt-[3px] text-right font-mono text-[12px] text-ink-2">{row.isHeading ? '' : row.key}</span>
      <span aria-hidden="true" className={`w-[3px] shrink-0 self-stretch ${row.isHeading ? '' : strokeOf(row)}`} />
      {row.isHeading ? (
        <b className="min-w-0 flex-1 font-serif text-[17px]">
          {number} {row.title} <span className="sr-only">{row.key}</span>
        </b>
      ) : (
        <span
          className={`min-w-0 flex-1 font-serif text-[15px] leading-[22px] whitespace-pre-line
            ${row.isRetired ? 'text-ink-3 line-through' : ''}`}
        >
          {plainText(row.text) || row.title}
        </span>
      )}
      {!row.isHeading && <span className="w-[112px] shrink-0 pt-[3px] text-[12px]">{evidenceOf(row)}</span>}
    </button>
  )
}
/** The margin: thick where it is proven, copper where something breaks it, ochre where ties have to be looked at, thin where nobody has. */
function strokeOf(row: Requirement): string {
  if (row.isRetired) return ''
  if (row.brokenBy.length > 0 || row.failingTests > 0) return 'bg-fault'
  if (row.suspects > 0) return 'bg-ochre'
  return row.tests > 0 ? 'bg-proof' : 'mx-px w-px! bg-ink-3'
}

function evidenceOf(row: Requirement) {
  if (row.isRetired) return <span className="text-ink-3">retired</span>
  if (row.brokenBy.length > 0) return <span className="text-fault">broken by {row.brokenBy.join(', ')}</span>
  if (row.failingTests > 0) return <span className="text-fault">{plural(row.failingTests, 'test fails', 'tests fail')}</span>
  if (row.suspects > 0) return <span className="text-ochre">look again: {plural(row.suspects, 'tie')}</span>
  const parts = [
    row.tests > 0 ? plural(row.tests, 'test') : 'no test',
    row.implementedBy > 0 ? plural(row.implementedBy, 'item') : 'no item',
  ]
  return <span className={row.tests === 0 || row.implementedBy === 0 ? 'text-ochre' : 'text-ink-2'}>{parts.join(', ')}</span>
}

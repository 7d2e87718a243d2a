import { chapterNumbers } from '@dystracer/core/requirements/document-order'
import { plainText } from '@dystracer/core/requirements/plain-text'
import type { Requirement } from '@dystracer/core/requirements/wire'
import { useMemo, type KeyboardEvent } from 'react'
import { plural } from '#shared/lib/format'
import { usePaneTrail } from '#shared/lib/use-trail'

/** Requirements as a document: prose, with its key to the left and what stands for it to the right. Arrows go from sentence to sentence. */
export function RequirementDocument({ rows }: { rows: readonly Requirement[] }) {
  const trail = usePaneTrail()
  const numbers = useMemo(() => chapterNumbers(rows), [rows])
  const shown = trail.next?.kind === 'requirement' ? trail.next.id : null
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return
    const sentences = [...event.currentTarget.querySelectorAll<HTMLElement>('[data-sentence]')]
    const from = sentences.indexOf(document.activeElement as HTMLElement)
    const next = sentences[from + (event.key === 'ArrowDown' ? 1 : -1)]
    if (!next) return
    event.preventDefault()
    next.focus()
    trail.open({ kind: 'requirement', id: next.dataset.sentence ?? '' }, { isStep: from >= 0 })
  }
  return (
    <ol aria-label="The document" className="m-0 list-none p-0 py-2" onKeyDown={onKeyDown}>
      {rows.map((row) => (
        <li key={row.key} className="[contain-intrinsic-size:auto_60px] [content-visibility:auto]">
          <button
            type="button"
            data-sentence={row.key}
            aria-current={row.key === shown}
            onClick={() => trail.open({ kind: 'requirement', id: row.key })}
            className={`@container flex w-full items-start gap-3 px-3 text-left hover:bg-mark
              ${row.isHeading ? 'pt-3 pb-1' : 'py-1.5'} ${row.key === shown ? 'bg-mark' : ''}`}
          >
            <span className="w-[52px] shrink-0 pt-[3px] text-right font-mono text-[12px] text-ink-2">{row.isHeading ? '' : row.key}</span>
            <span aria-hidden="true" className={`w-[3px] shrink-0 self-stretch ${row.isHeading ? '' : strokeOf(row)}`} />
            {row.isHeading ? (
              <b className="min-w-0 flex-1 font-serif text-[17px]">
                {numbers.get(row.key)} {row.title} <span className="sr-only">{row.key}</span>
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
        </li>
      ))}
    </ol>
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

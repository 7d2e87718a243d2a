import type { Remark } from '@dystracer/core/reviews/wire'
import type { ReactNode } from 'react'
import type { FileData } from 'react-diff-view'
import { keyOfLine, pathOfFile, textOfLines, type DiffLine } from '#shared/diff/DiffFile'
import { RemarkForm } from '#shared/diff/RemarkForm'
import { Markdown } from '#shared/ui/Markdown'
import { Button } from '#shared/ui/parts'
import type { usePendingRemarks } from './pending.slice'
import { Instead, RemarkThread } from './RemarkThread'
import type { Place } from './use-chosen-lines'

interface WidgetInput {
  project: string
  id: string
  file: FileData
  remarks: readonly Remark[]
  canWrite: boolean
  pending: ReturnType<typeof usePendingRemarks>
  form: Place | null
  onClose: () => void
}

/** What stands below the lines of a file: remarks, one's own that are not sent yet, and the form of the one being written. */
export function widgetsOf({ project, id, file, remarks, canWrite, pending, form, onClose }: WidgetInput): Record<string, ReactNode> {
  const path = pathOfFile(file)
  const below = new Map<string, ReactNode[]>()
  const put = (line: DiffLine, node: ReactNode) => {
    const key = keyOfLine(file, line)
    if (key !== null) below.set(key, [...(below.get(key) ?? []), node])
  }
  for (const remark of remarks) {
    const place = placeNow([file], remark)
    if (place) put(place, <RemarkThread key={remark.remarkId} id={id} remark={remark} canWrite={canWrite} />)
  }
  for (const [at, remark] of pending.remarks.entries()) {
    if (remark.path !== path) continue
    put(
      { side: remark.side, line: remark.lastLine },
      <div key={`pending-${at}`} className="mx-4 my-1 border-l-2 border-dashed border-ochre pl-3 text-[13px]">
        <Markdown text={remark.text} /> {remark.instead !== null && <Instead text={remark.instead} />}
        <span className="text-[12px] text-ink-3">
          not sent yet ·{' '}
          <Button look="text" onClick={() => pending.drop(at)} aria-label={`take it back: ${remark.text.slice(0, 40)}`}>
            take it back
          </Button>
        </span>
      </div>,
    )
  }
  if (form?.path === path)
    put(
      { side: form.side, line: form.lastLine },
      <RemarkForm
        key="form"
        project={project}
        label={`Remark on ${linesInWords(form)} of ${path}`}
        lines={form.side === 'new' ? textOfLines(file, form) : undefined}
        deed="Keep for the review"
        onCancel={onClose}
        onWritten={(written) => {
          pending.write({ ...form, ...written })
          onClose()
        }}
      />,
    )
  return Object.fromEntries([...below].map(([key, nodes]) => [key, <div key={key}>{nodes}</div>]))
}

export function linesInWords({ line, lastLine }: Pick<Place, 'line' | 'lastLine'>): string {
  return line === lastLine ? `line ${line}` : `lines ${line}–${lastLine}`
}

/** Where a remark stands among these files now; null where its line is not shown any more. */
export function placeNow(files: readonly FileData[], { place, now }: Remark): DiffLine | null {
  if (!place || !now) return null
  const file = files.find((each) => pathOfFile(each) === place.path)
  const line = { side: place.side, line: now.lastLine }
  return file && keyOfLine(file, line) !== null ? line : null
}

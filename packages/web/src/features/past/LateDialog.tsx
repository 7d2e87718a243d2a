import type { LateFact } from '@dystracer/core/past/wire'
import { parseNodeRef } from '@dystracer/core/basics/node-ref'
import { fullDate } from '#shared/lib/format'
import { Dialog } from '#shared/ui/Dialog'
import { ThingLink } from '#shared/ui/ThingLink'

/** What was dated before the moment and became known only afterwards: it is not among what is shown. */
export function LateDialog({
  at,
  late,
  onClose,
}: {
  at: string
  late: { rows: readonly LateFact[]; nextCursor: string | null }
  onClose: () => void
}) {
  return (
    <Dialog title={`Came late to ${fullDate(Date.parse(at))}`} isOpen onClose={onClose}>
      <div className="px-4 py-3">
        <p className="mb-2 text-ink-2">
          This was dated before that moment and became known here only afterwards, so it is not among what is shown.
        </p>
        <ul aria-label="What came late" className="m-0 max-h-[50vh] list-none overflow-y-auto p-0">
          {late.rows.map(({ seq, kind, subjects, atMs, knownAtMs }) => (
            <li key={seq} className="border-b border-edge-soft py-1 last:border-0">
              {kind.replaceAll('-', ' ')}{' '}
              {subjects.flatMap((subject) => {
                const ref = parseNodeRef(subject)
                return ref ? [<ThingLink key={subject} to={ref} className="mr-2" />] : []
              })}
              <span className="block text-[12px] text-ink-2">
                of {fullDate(atMs)}, known since {fullDate(knownAtMs)}
              </span>
            </li>
          ))}
        </ul>
        {late.nextCursor !== null && <p className="mt-2 text-[12px] text-ink-2">There is more; the first {late.rows.length} are listed.</p>}
      </div>
    </Dialog>
  )
}

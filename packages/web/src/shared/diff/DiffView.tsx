import { lazy, Suspense } from 'react'
import type { WithLines } from './DiffRendered'

const Rendered = lazy(() => import('./DiffRendered').then((module) => ({ default: module.DiffRendered })))

export function DiffView({
  diff,
  repository,
  isCut,
  withLines,
}: {
  diff: string
  repository: string
  isCut: boolean
  withLines?: WithLines
}) {
  return (
    <Suspense fallback={<p className="px-4 text-ink-3">Drawing the diff …</p>}>
      <Rendered diff={diff} repository={repository} withLines={withLines} />
      {isCut && <p className="px-4 py-2 text-ochre">The diff is longer than what is shown here; git has all of it.</p>}
    </Suspense>
  )
}

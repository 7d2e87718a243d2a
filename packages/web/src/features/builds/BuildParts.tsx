import type { BuildDetail } from '@dystracer/core/builds/wire'
import { plural } from '#shared/lib/format'
import { SectionHead } from '#shared/ui/parts'

const COVERAGE_SHOWN = 8

/** The files with the most lines that no test ran; all of them when asked for. */
export function Covered({ build, isAll }: { build: BuildDetail; isAll: boolean }) {
  if (build.coverage.length === 0) return null
  const covered = sumOf(build.coverage)
  return (
    <section aria-label="Covered" className="border-t border-edge px-4 py-3">
      <SectionHead>Covered</SectionHead>
      <p className="m-0">
        <span className="text-[22px]">{covered.percent}</span> % of {covered.lines} lines in {plural(build.coverage.length, 'file')}
      </p>
      <ul className="m-0 list-none p-0 text-[12px]">
        {[...build.coverage]
          .sort((one, other) => other.missed - one.missed)
          .slice(0, isAll ? undefined : COVERAGE_SHOWN)
          .map((file) => (
            <li key={file.path} className="flex gap-3 py-0.5">
              <span className="min-w-0 flex-1 truncate font-mono" title={file.path}>
                {file.path}
              </span>
              <span className="text-ink-2" title={file.missedLines}>
                {file.missed > 0 ? `${plural(file.missed, 'line')} not run: ${file.missedLines.slice(0, 40)}` : 'every line run'}
              </span>
            </li>
          ))}
      </ul>
    </section>
  )
}

function sumOf(files: BuildDetail['coverage']): { lines: number; percent: string } {
  const covered = files.reduce((sum, file) => sum + file.covered, 0)
  const lines = covered + files.reduce((sum, file) => sum + file.missed, 0)
  return { lines, percent: lines === 0 ? '0' : ((covered / lines) * 100).toFixed(1) }
}

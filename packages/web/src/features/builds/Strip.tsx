import type { FailureGroup } from '@dystracer/core/builds/wire'

type Strip = FailureGroup['strip']
const LOOK: Record<Strip[number]['outcome'], string> = {
  passed: 'top-0 h-[8px] bg-proof',
  failed: 'bottom-0 h-[8px] bg-fault',
  flaky: 'top-0 h-[18px] border border-ochre',
  skipped: 'top-[8px] h-[2px] bg-ink-3',
}

/** A test's past on a branch: strokes above a line where it passed, below it where it failed, both where it did both. */
export function TestStrip({ strip }: { strip: Strip }) {
  const count = (wanted: Strip[number]['outcome']) => strip.filter(({ outcome }) => outcome === wanted).length
  return (
    <span
      role="img"
      aria-label={`the last ${strip.length} builds: ${count('passed')} passed, ${count('failed')} failed, ${count('flaky')} both`}
      className="relative inline-flex h-[18px] items-stretch gap-[2px] align-middle"
    >
      {strip.map(({ number, name, outcome }) => (
        <span key={number} title={`build ${name}: ${outcome}`} className="relative w-[3px]">
          <span className={`absolute inset-x-0 ${LOOK[outcome]}`} />
        </span>
      ))}
    </span>
  )
}

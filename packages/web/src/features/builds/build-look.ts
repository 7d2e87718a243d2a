import type { Build } from '@dystracer/core/code/wire'

/** How the state of a build, or of one of its steps, is written. */
export const STATE_LOOK: Record<Build['state'], string> = {
  passed: 'text-proof',
  broke: 'font-bold text-fault',
  running: 'text-ink-2',
  stopped: 'text-ink-2',
  ended: 'text-ink-2',
}

import { comparableFile, comparableFunction, comparableType } from './comparable.js'
import { messageTemplate, templateLikeness } from './mask-message.js'
import type { Frame, TraceException } from './trace.js'

const FRAMES_MAX = 60
/** From here on two faults are worth a look. */
export const ALIKE_FROM = 0.6

/** Two stacks side by side: equal frames in one line, others alone. */
export type StackPair = { left: Frame | null; right: Frame | null }
/** Two stacks compared: how alike they are, and their frames side by side. */
export interface StackLikeness {
  /** From 0 to 1; orders, and is no likelihood. */
  score: number
  pairs: StackPair[]
}

/**
 * How alike two exceptions are: the frames that their stacks share in order (longest common subsequence, own frames counting four times and
 * inner ones more), the meaning of their messages, and
 * their type. O(frames²), at most 60 of each.
 */
export function stackLikeness(left: TraceException, right: TraceException): StackLikeness {
  const [a, b] = [left.frames.slice(0, FRAMES_MAX), right.frames.slice(0, FRAMES_MAX)]
  const [names, others] = [a.map(nameOf), b.map(nameOf)]
  const weight = (frame: Frame | undefined, at: number) => (frame?.isApp ? 4 : 1) / (1 + at / 8)
  const best = Array.from({ length: a.length + 1 }, () => new Array<number>(b.length + 1).fill(0))
  for (let i = a.length - 1; i >= 0; i--)
    for (let j = b.length - 1; j >= 0; j--) {
      const row = best[i]
      if (!row) continue
      const both = names[i] === others[j] ? weight(a[i], Math.min(i, j)) + (best[i + 1]?.[j + 1] ?? 0) : 0
      row[j] = Math.max(both, best[i + 1]?.[j] ?? 0, row[j + 1] ?? 0)
    }
  const pairs: StackPair[] = []
  let [i, j] = [0, 0]
  while (i < a.length || j < b.length) {
    const here = best[i]?.[j] ?? 0
    if (i < a.length && j < b.length && names[i] === others[j] && here === weight(a[i], Math.min(i, j)) + (best[i + 1]?.[j + 1] ?? 0))
      pairs.push({ left: a[i++] ?? null, right: b[j++] ?? null })
    else if (j >= b.length || (i < a.length && here === (best[i + 1]?.[j] ?? 0))) pairs.push({ left: a[i++] ?? null, right: null })
    else pairs.push({ left: null, right: b[j++] ?? null })
  }
  const whole = (frames: readonly Frame[]) => frames.reduce((sum, frame, at) => sum + weight(frame, at), 0)
  const most = Math.max(whole(a), whole(b))
  const shared = most === 0 ? 0 : (best[0]?.[0] ?? 0) / most
  const words = templateLikeness(messageTemplate(left.message), messageTemplate(right.message))
  const type = comparableType(left.type) === comparableType(right.type) ? 1 : 0
  return { score: Math.min(1, most === 0 ? 0.7 * words + 0.3 * type : 0.6 * shared + 0.25 * words + 0.15 * type), pairs }
}

function nameOf(frame: Frame): string {
  return `${comparableFunction(frame.function) ?? ''}@${comparableFile(frame.file)}`
}

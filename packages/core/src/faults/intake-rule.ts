/** OpenTelemetry severity numbers begin a level every four (TRACE 1, DEBUG 5, INFO 9, WARN 13, ERROR 17, FATAL 21). */
export const SEVERITY_NUMBER = { trace: 1, debug: 5, info: 9, warn: 13, error: 17, fatal: 21 } as const
/** The name of a log severity in OpenTelemetry's scale. */
export type SeverityName = keyof typeof SEVERITY_NUMBER

/** What turns a fault into an item. */
export interface IntakeRule {
  ruleId: string
  name: string
  environmentKind: 'production' | 'any'
  severityAtLeast: SeverityName
  /** Occurrences within the window that make it fire. */
  countAtLeast: number
  windowMs: number
}

/** What is known of a fault when the rule is asked. */
export interface FaultActivity {
  environmentKind: string
  severityNumber: number
  /** Event times of recent occurrences in that environment at or above the severity, in any order. */
  recentAtMs: readonly number[]
}

/**
 * Whether some window of the rule's length holds enough occurrences. Windows are half-open, so five occurrences exactly a window apart from
 * first to
 * last do not count as within it. O(n log n).
 */
export function ruleFires(rule: IntakeRule, activity: FaultActivity): boolean {
  if (rule.environmentKind !== 'any' && activity.environmentKind !== rule.environmentKind) return false
  if (activity.severityNumber < SEVERITY_NUMBER[rule.severityAtLeast]) return false
  const times = [...activity.recentAtMs].sort((a, b) => a - b)
  for (let last = rule.countAtLeast - 1; last < times.length; last++) {
    const first = times[last - rule.countAtLeast + 1] ?? 0
    if ((times[last] ?? 0) - first < rule.windowMs) return true
  }
  return false
}

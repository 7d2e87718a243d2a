const PART = /(\d+(?:\.\d+)?)\s*(d|h|m|min)\b/gy
/** A working day counts as eight hours, as in planning. */
const MINUTES_BY_UNIT: Record<string, number> = { d: 480, h: 60, m: 1, min: 1 }

/** Whole minutes of `1h 30m`, `-20m`, `1.5h`; null when the text is anything else. */
export function parseDurationMinutes(text: string): number | null {
  const trimmed = text.trim().toLowerCase()
  const sign = trimmed.startsWith('-') ? -1 : 1
  const rest = trimmed.replace(/^[+-]\s*/, '')
  if (!rest) return null
  let total = 0
  let at = 0
  while (at < rest.length) {
    PART.lastIndex = at
    const match = PART.exec(rest)
    if (!match) return null
    total += Number(match[1]) * (MINUTES_BY_UNIT[match[2] ?? ''] ?? 0)
    at = PART.lastIndex
    while (rest[at] === ' ') at++
  }
  return sign * Math.round(total)
}

/** `1 h 20`, `45 min`, `0 min`; negative times carry a minus sign. */
export function formatMinutes(minutes: number): string {
  const sign = minutes < 0 ? '−' : ''
  const whole = Math.abs(Math.round(minutes))
  const hours = Math.floor(whole / 60)
  if (hours === 0) return `${sign}${whole} min`
  const rest = whole % 60
  return rest === 0 ? `${sign}${hours} h` : `${sign}${hours} h ${String(rest).padStart(2, '0')}`
}

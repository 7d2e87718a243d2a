import { format } from 'date-fns'

/** An instant as a field for a day and a time holds it, in the reader's own zone. */
export function toLocalTime(atMs: number): string {
  return format(atMs, "yyyy-MM-dd'T'HH:mm")
}

/** The instant that such a field holds; null for an empty one. */
export function fromLocalTime(text: string): number | null {
  const atMs = new Date(text).getTime()
  return Number.isNaN(atMs) ? null : atMs
}

/** `40 min`, `3 h 20 min`, `2 d 4 h`. */
export function lasting(durationMs: number): string {
  const minutes = Math.max(0, Math.round(durationMs / 60_000))
  if (minutes < 60) return `${minutes} min`
  const hours = Math.floor(minutes / 60)
  if (hours < 48) return minutes % 60 === 0 ? `${hours} h` : `${hours} h ${minutes % 60} min`
  return hours % 24 === 0 ? `${hours / 24} d` : `${Math.floor(hours / 24)} d ${hours % 24} h`
}

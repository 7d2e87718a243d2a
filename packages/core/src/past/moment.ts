/**
 * A moment as it stands in addresses and answers, to the second that it lies in.
 *
 * @example momentOf(1_791_028_800_900) // '2026-10-03T12:00:00Z'
 */
export function momentOf(atMs: number): string {
  return new Date(Math.floor(atMs / 1000) * 1000).toISOString().replace('.000Z', 'Z')
}

/** A share with the bounds between which it lies in 95 of 100 cases. */
export interface Share {
  count: number
  of: number
  share: number
  from: number
  to: number
}

const Z = 1.96

/** A share of a count with the interval of Wilson (JASA 22, 1927), which holds for few and for extreme counts, too. Null of nothing. */
export function shareOf(count: number, of: number): Share | null {
  if (of === 0) return null
  const share = count / of
  const scale = 1 + Z ** 2 / of
  const middle = (share + Z ** 2 / (2 * of)) / scale
  const half = (Z / scale) * Math.sqrt((share * (1 - share)) / of + Z ** 2 / (4 * of ** 2))
  return { count, of, share, from: Math.max(0, middle - half), to: Math.min(1, middle + half) }
}

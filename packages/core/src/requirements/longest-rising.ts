/**
 * Places of a longest strictly rising subsequence, in order: what may stay where it is when a row is put into another order. Patience
 * sorting (Fredman 1975), O(n log n).
 */
export function longestRising(values: readonly number[]): number[] {
  const ends: number[] = []
  const before: number[] = []
  for (const [at, value] of values.entries()) {
    let low = 0
    for (let high = ends.length; low < high; ) {
      const middle = (low + high) >> 1
      if ((values[ends[middle] as number] as number) < value) low = middle + 1
      else high = middle
    }
    before[at] = low === 0 ? -1 : (ends[low - 1] as number)
    ends[low] = at
  }
  const chain: number[] = []
  for (let at = ends.at(-1) ?? -1; at >= 0; at = before[at] as number) chain.unshift(at)
  return chain
}

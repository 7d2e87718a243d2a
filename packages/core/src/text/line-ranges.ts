/** Lines as ranges, for storing: `1-5 8 10-12`. Lines ascend. */
export function toRanges(lines: readonly number[]): string {
  const parts: string[] = []
  for (let at = 0; at < lines.length; ) {
    const from = lines[at] as number
    let to = from
    while (lines[at + 1] === to + 1) {
      to++
      at++
    }
    at++
    parts.push(from === to ? String(from) : `${from}-${to}`)
  }
  return parts.join(' ')
}

/** The lines that `toRanges` wrote. */
export function fromRanges(ranges: string): number[] {
  if (ranges === '') return []
  return ranges.split(' ').flatMap((part) => {
    const [from = 0, to = from] = part.split('-').map(Number)
    return Array.from({ length: to - from + 1 }, (_, at) => from + at)
  })
}

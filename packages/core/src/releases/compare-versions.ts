/**
 * Orders two names of releases as versions: parts between dots and hyphens, numbers by value, and a name with
 * something appended by a hyphen before the one without (`4.2.0-rc.1` before `4.2.0`), as in Semantic
 * Versioning 2.0.0, section 11; names that are no versions by their letters. A leading `v` says nothing. Less
 * than zero: `a` is the older one. O(length).
 */
export function compareVersions(a: string, b: string): number {
  const [left, right] = [partsOf(a), partsOf(b)]
  return compareParts(left.core, right.core, 0) || comparePreviews(left.preview, right.preview)
}

function partsOf(name: string): { core: string[]; preview: string[] | null } {
  const plain = name.replace(/^v(?=\d)/i, '').replace(/\+.*$/, '')
  const at = plain.indexOf('-')
  return at < 0
    ? { core: plain.split('.'), preview: null }
    : { core: plain.slice(0, at).split('.'), preview: plain.slice(at + 1).split('.') }
}

function comparePreviews(a: string[] | null, b: string[] | null): number {
  if (a === null || b === null) return Number(a === null) - Number(b === null)
  return compareParts(a, b, -1)
}

/** `missing` says what a part that is not there is: 0 the same as a zero, -1 before any. */
function compareParts(a: readonly string[], b: readonly string[], missing: 0 | -1): number {
  for (let at = 0; at < Math.max(a.length, b.length); at++) {
    const [x, y] = [a[at], b[at]]
    if (missing === -1 && (x === undefined || y === undefined)) return Number(x !== undefined) - Number(y !== undefined)
    const order = comparePart(x ?? '0', y ?? '0')
    if (order !== 0) return order
  }
  return 0
}

function comparePart(x: string, y: string): number {
  const [isX, isY] = [/^\d+$/.test(x), /^\d+$/.test(y)]
  if (isX && isY) return Number(BigInt(x) - BigInt(y) > 0n) - Number(BigInt(x) - BigInt(y) < 0n)
  if (isX !== isY) return isX ? -1 : 1
  return x < y ? -1 : Number(x > y)
}

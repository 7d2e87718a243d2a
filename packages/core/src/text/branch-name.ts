import { plainWords } from './id-from.js'

/**
 * The branch proposed for an item: `fix/EMB-142-relay-stays-closed`; at most 60 characters, only letters, digits and hyphens after the key.
 */
export function proposeBranchName(item: { key: string; title: string; type: string }): string {
  let name = `${item.type === 'defect' ? 'fix' : 'feature'}/${item.key}`
  for (const word of plainWords(item.title)) {
    if (name.length + word.length + 1 > 60) break
    name += `-${word}`
  }
  return name
}

/** Whether a pattern names a branch: `*` stands for any characters, none too. Linear but for one step back for each star. */
export function namesBranch(pattern: string, branch: string): boolean {
  let [at, star, mark] = [0, -1, 0]
  let index = 0
  while (index < branch.length) {
    if (pattern[at] === '*') {
      star = at++
      mark = index
    } else if (at < pattern.length && pattern[at] === branch[index]) {
      at++
      index++
    } else if (star >= 0) {
      at = star + 1
      index = ++mark
    } else return false
  }
  while (pattern[at] === '*') at++
  return at === pattern.length
}

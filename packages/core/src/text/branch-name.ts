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

import { LRUCache } from 'lru-cache'
import { slot, type ServiceContext } from '#platform/context'
import { gitWorker, isGitTrouble, mirrorDir } from './git.client.js'

/** Files by repository, commit and path, also that one is not there: a commit never changes. */
const FILES = slot('texts of files at commits', () => new LRUCache<string, { text: string | null }>({ max: 1000 }))

/** What a file holds at a commit, nothing of one that is no text; null where it is not there, or the repository cannot be read. */
export async function textAt(ctx: ServiceContext, repository: string, sha: string, path: string): Promise<string | null> {
  const key = `${repository}\0${sha}\0${path}`
  const known = ctx.use(FILES).get(key)
  if (known) return known.text
  try {
    const file = await gitWorker(ctx).call('readFile', { dir: mirrorDir(ctx, repository), sha, path })
    ctx.use(FILES).set(key, { text: file?.text ?? null })
    return file?.text ?? null
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error)) return null
    throw error
  }
}

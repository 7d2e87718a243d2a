import { fetchMirror, readBlame, readDiff, readNewCommits, readTrackedFiles } from '../adapters/git/mirror.js'
import type { GitMethods } from './git.protocol.js'
import { serveCalls } from './rpc.js'

serveCalls({
  fetch: ({ dir, url }: GitMethods['fetch']['input']) => fetchMirror(dir, url),
  newCommits: ({ dir, tips, known }: GitMethods['newCommits']['input']) => readNewCommits(dir, tips, known),
  diff: ({ dir, from, to }: GitMethods['diff']['input']) => readDiff(dir, from, to),
  trackedFiles: ({ dir, sha }: GitMethods['trackedFiles']['input']) => readTrackedFiles(dir, sha),
  blame: ({ dir, sha, path, line }: GitMethods['blame']['input']) => readBlame(dir, sha, path, line),
})

import { workerData } from 'node:worker_threads'
import { fetchMirror, listNewCommits, readBlame, readCommits, readDiff, readMainLine, readTrackedFiles } from './git/mirror.js'
import { mergeAndPush, pushRef } from './git/merge.js'
import { makeReach } from './git/reach.js'
import { openReadOnly } from '#platform/db/open'
import type { GitData, GitMethods } from './git.protocol.js'
import { ReleaseCode } from './release-code.js'
import { serveCalls } from '#platform/threads/serve-calls'

const { volumePath, dbPath, mirrorsDir, allowedHosts } = workerData as GitData
const volume = openReadOnly(volumePath)
const main = openReadOnly(dbPath)
const reach = makeReach(allowedHosts)
const fetches = new Map<string, AbortController>()
const code = new ReleaseCode({ volume, main, mirrorsDir })

serveCalls(
  {
    fetch: async ({ dir, url }: GitMethods['fetch']['input'], tell) => {
      const stopper = new AbortController()
      fetches.set(dir, stopper)
      try {
        return await fetchMirror(dir, url, { reach, tell, signal: stopper.signal })
      } finally {
        fetches.delete(dir)
      }
    },
    stopFetch: ({ dir }: GitMethods['stopFetch']['input']) => fetches.get(dir)?.abort(),
    merge: (input: GitMethods['merge']['input']) => mergeAndPush(input, reach),
    pushRef: (input: GitMethods['pushRef']['input']) => pushRef(input, reach),
    mainLine: ({ url }: GitMethods['mainLine']['input']) => readMainLine(mirrorsDir, url, reach),
    newCommits: ({ dir, tips, known }: GitMethods['newCommits']['input']) => listNewCommits(dir, tips, known),
    readCommits: ({ dir, shas }: GitMethods['readCommits']['input']) => readCommits(dir, shas),
    diff: ({ dir, from, to }: GitMethods['diff']['input']) => readDiff(dir, from, to),
    trackedFiles: ({ dir, sha }: GitMethods['trackedFiles']['input']) => readTrackedFiles(dir, sha),
    blame: ({ dir, sha, path, line }: GitMethods['blame']['input']) => readBlame(dir, sha, path, line),
    readTraces: ({ traces }: GitMethods['readTraces']['input']) => traces.map((trace) => code.read(trace)),
    forgetCode: () => code.forget(),
  },
  () => {
    volume.close()
    main.close()
  },
)

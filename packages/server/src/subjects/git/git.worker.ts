import {
  readFileChange,
  fetchMirror,
  listNewCommits,
  readBlame,
  readChangedFiles,
  readCommits,
  readDiff,
  readMainLine,
  readTrackedFiles,
} from './mirror.js'
import { changeLines } from './change-lines.js'
import { carryAndPush } from './carry.js'
import { readLargeGraphs } from './commit-graphs.js'
import { pickAndPush, planPicks } from './pick-row.js'
import { commitFile } from './commit-file.js'
import { blameFile, listFolder, readBlob, readFileAt, searchFiles } from './read-files.js'
import { deleteRef, mergeAndPush, mergeTrees, pushRef, pushTag } from './merge.js'
import { rebaseAndPush } from './rebase.js'
import { findSuspects } from './suspects.js'
import { listLockFiles, readLocks } from './read-locks.js'
import { makeReach } from './reach.js'
import { endRunning } from './run-git.js'
import { readWholeChange } from './whole-change.js'
import { openReadOnly } from '#platform/db/open'
import type { GitData, GitMethods } from './git.protocol.js'
import { ReleaseCode } from './release-code.js'
import { dataOfWorker, serveCalls } from '#platform/threads/serve-calls'

const { volumePath, dbPath, mirrorsDir, knownHostsFile, allowedHosts } = dataOfWorker<GitData>()
const volume = openReadOnly(volumePath)
const main = openReadOnly(dbPath)
const outside = { reach: makeReach(allowedHosts), knownHostsFile }
const fetches = new Map<string, AbortController>()
const code = new ReleaseCode({ volume, main, mirrorsDir })

serveCalls(
  {
    fetch: async ({ dir, url, access }: GitMethods['fetch']['input'], tell) => {
      const stopper = new AbortController()
      fetches.set(dir, stopper)
      try {
        return await fetchMirror(dir, { url, access }, { outside, tell, signal: stopper.signal })
      } finally {
        fetches.delete(dir)
      }
    },
    stopFetch: ({ dir }: GitMethods['stopFetch']['input']) => fetches.get(dir)?.abort(),
    merge: (input: GitMethods['merge']['input']) =>
      input.method === 'rebase' ? rebaseAndPush(input, outside) : mergeAndPush(input, outside),
    tryMerge: async ({ dir, base, head }: GitMethods['tryMerge']['input']) => {
      const merged = await mergeTrees(dir, base, head)
      return merged.kind === 'conflict' ? merged.files : []
    },
    listFolder: ({ dir, sha, path }: GitMethods['listFolder']['input']) => listFolder(dir, { sha, path }),
    carry: (input: GitMethods['carry']['input']) => carryAndPush(input, outside),
    planPicks: (input: GitMethods['planPicks']['input']) => planPicks(input),
    pickRow: (input: GitMethods['pickRow']['input']) => pickAndPush(input, outside),
    changeLines: (input: GitMethods['changeLines']['input']) => changeLines(input, outside),
    commitFile: (input: GitMethods['commitFile']['input']) => commitFile(input, outside),
    pushTag: (input: GitMethods['pushTag']['input']) => pushTag(input, outside),
    pushRef: (input: GitMethods['pushRef']['input']) => pushRef(input, outside),
    suspects: ({ dir, ...failure }: GitMethods['suspects']['input']) => findSuspects(dir, failure),
    changedFiles: ({ dir, from, to }: GitMethods['changedFiles']['input']) => readChangedFiles(dir, from, to),
    lockFiles: ({ dir, sha }: GitMethods['lockFiles']['input']) => listLockFiles(dir, sha),
    readLocks: ({ dir, files }: GitMethods['readLocks']['input']) => readLocks(dir, files),
    deleteRef: (input: GitMethods['deleteRef']['input']) => deleteRef(input, outside),
    fileChange: ({ dir, from, to, path }: GitMethods['fileChange']['input']) => readFileChange(dir, { from, to, path }),
    mainLine: (remote: GitMethods['mainLine']['input']) => readMainLine(mirrorsDir, remote, outside),
    readGraphs: ({ repositories }: GitMethods['readGraphs']['input']) => readLargeGraphs(main, repositories),
    newCommits: ({ dir, tips, known }: GitMethods['newCommits']['input']) => listNewCommits(dir, tips, known),
    readCommits: ({ dir, shas }: GitMethods['readCommits']['input']) => readCommits(dir, shas),
    diff: ({ dir, from, to }: GitMethods['diff']['input']) => readDiff(dir, from, to),
    wholeChange: ({ dir, shas }: GitMethods['wholeChange']['input']) => readWholeChange(dir, shas),
    trackedFiles: ({ dir, sha }: GitMethods['trackedFiles']['input']) => readTrackedFiles(dir, sha),
    blame: ({ dir, sha, path, line }: GitMethods['blame']['input']) => readBlame(dir, sha, path, line),
    readFile: ({ dir, sha, path }: GitMethods['readFile']['input']) => readFileAt(dir, sha, path),
    readBlob: ({ dir, ...asked }: GitMethods['readBlob']['input']) => readBlob(dir, asked),
    blameFile: ({ dir, sha, path }: GitMethods['blameFile']['input']) => blameFile(dir, sha, path),
    searchFiles: ({ dir, sha, ...asked }: GitMethods['searchFiles']['input']) => searchFiles(dir, sha, asked),
    readTraces: ({ traces }: GitMethods['readTraces']['input']) => traces.map((trace) => code.read(trace)),
    forgetCode: () => code.forget(),
  },
  () => {
    volume.close()
    main.close()
  },
  endRunning,
)

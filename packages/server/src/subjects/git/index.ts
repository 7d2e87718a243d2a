// What other subjects may use of git.
export type { MergeResult } from './merge.js'
export { makeKeyPair, type GitAccess } from './outward.js'
export type { FailureBetween } from './suspects.js'
export { fetchUrl, gitWorker, isGitTrouble, mirrorDir, mirrorsDir, reading, trackedFilesOf } from './git.client.js'
export type { RawCommit, RefTip } from './mirror.js'
export { type Place, type PlacedTrace, ReleaseCode } from './release-code.js'
export { builtFileName, parseSourceMap } from './source-maps.js'
export { textAt } from './text-at.js'

import type { Trace } from '@dystracer/core/traces/trace'
import type { BlamedLine, RawCommit, RefTip } from './git/mirror.js'
import type { MergeInput, MergeResult } from './git/merge.js'
import type { PlacedTrace } from './release-code.js'

export interface GitData {
  volumePath: string
  dbPath: string
  mirrorsDir: string
  /** Hosts that may be reached although they are not of the open net. */
  allowedHosts: readonly string[]
}
/** What the git worker does; shas are full object names, `dir` is a mirror inside the data folder. */
export interface GitMethods {
  /** Tells its progress in git's words. */
  fetch: { input: { dir: string; url: string }; output: RefTip[] }
  /** Ends the fetch into this mirror that is under way, if there is one. */
  stopFetch: { input: { dir: string }; output: undefined }
  merge: { input: MergeInput; output: MergeResult }
  pushRef: { input: { dir: string; url: string; branch: string; sha: string; expected: string | null }; output: MergeResult }
  mainLine: { input: { url: string }; output: string | null }
  /** Hashes, a line each: one text crosses between threads at once, a million of them do not. */
  newCommits: { input: { dir: string; tips: string[]; known: string[] }; output: string }
  readCommits: { input: { dir: string; shas: string[] }; output: RawCommit[] }
  diff: { input: { dir: string; from: string | null; to: string }; output: { diff: string; isCut: boolean } }
  trackedFiles: { input: { dir: string; sha: string }; output: string[] }
  blame: { input: { dir: string; sha: string; path: string; line: number }; output: BlamedLine | null }
  /** Stack traces read with what is known of the releases that they come from. */
  readTraces: { input: { traces: PlacedTrace[] }; output: Trace[] }
  /** Looks anew at maps, tags and what people said. */
  forgetCode: { input: object; output: undefined }
}

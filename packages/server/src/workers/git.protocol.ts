import type { BlamedLine, RawCommit, RefTip } from '../adapters/git/mirror.js'

/** What the git worker does; shas are full object names, `dir` is a mirror inside the data folder. */
export interface GitMethods {
  fetch: { input: { dir: string; url: string }; output: RefTip[] }
  newCommits: { input: { dir: string; tips: string[]; known: string[] }; output: RawCommit[] }
  diff: { input: { dir: string; from: string | null; to: string }; output: { diff: string; isCut: boolean } }
  trackedFiles: { input: { dir: string; sha: string }; output: string[] }
  blame: { input: { dir: string; sha: string; path: string; line: number }; output: BlamedLine | null }
}

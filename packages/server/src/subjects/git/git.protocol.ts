import type { GraphParts } from '@dystracer/core/code/commit-graph'
import type { PackageRef } from '@dystracer/core/dependencies/package-ref'
import type { Trace } from '@dystracer/core/traces/trace'
import type { BlamedLine, ChangedFiles, RawCommit, RefTip } from './mirror.js'
import type { Suspect } from '@dystracer/core/code/suspects'
import type { FailureBetween } from './suspects.js'
import type { GitAccess } from './outward.js'
import type { ChangeLinesInput, ChangeLinesResult } from './change-lines.js'
import type { CarryInput, CarryResult } from './carry.js'
import type { CommitFileInput } from './commit-file.js'
import type { MergeInput, MergeResult } from './merge.js'
import type { PickPlan, PickRow, PickTrial } from './pick-row.js'
import type { BlamedRun, FileAt, FoundLine } from './read-files.js'
import type { LockFile } from './read-locks.js'
import type { PlacedTrace } from './release-code.js'
import type { WholeDiff } from './whole-change.js'

export interface GitData {
  volumePath: string
  dbPath: string
  mirrorsDir: string
  knownHostsFile: string
  /** Hosts that may be reached although they are not of the open net. */
  allowedHosts: readonly string[]
}
/** Where a remote is, and what proves to it that we may. */
export interface Remote {
  url: string
  access: GitAccess | null
}
/** What the git worker does; shas are full object names, `dir` is a mirror inside the data folder. */
export interface GitMethods {
  /** Tells its progress in git's words. */
  fetch: { input: { dir: string } & Remote; output: RefTip[] }
  /** Ends the fetch into this mirror that is under way, if there is one. */
  stopFetch: { input: { dir: string }; output: undefined }
  /** Files in which a merge of two commits would conflict. */
  tryMerge: { input: { dir: string; base: string; head: string }; output: string[] }
  /** Names of the files that stand directly in a folder of a commit. */
  listFolder: { input: { dir: string; sha: string; path: string }; output: string[] }
  merge: { input: MergeInput; output: MergeResult }
  /** Makes the change of a commit anew on another line, or takes it back there, as a new branch. */
  carry: { input: CarryInput; output: CarryResult }
  /** Tries chosen changes on another line: order, conflicts, and what each needs before it. */
  planPicks: { input: PickTrial; output: PickPlan }
  /** Makes chosen changes anew on a line and pushes it. */
  pickRow: { input: PickRow; output: MergeResult }
  /** Changes lines of files in a commit on top of a branch, and pushes it. */
  changeLines: { input: ChangeLinesInput; output: ChangeLinesResult }
  /** Writes one file in a commit on a new branch, and pushes it. */
  commitFile: { input: CommitFileInput; output: MergeResult }
  pushRef: { input: { dir: string; branch: string; sha: string; expected: string | null } & Remote; output: MergeResult }
  mainLine: { input: Remote; output: string | null }
  /** The commits that may have brought a failure in, likeliest first. */
  suspects: { input: { dir: string } & FailureBetween; output: Suspect[] }
  /** `moved`: a tag of that name is there already. */
  pushTag: { input: { dir: string; tag: string; sha: string } & Remote; output: MergeResult }
  /** Paths that differ between two commits, and the lock files among them as they were and are. */
  changedFiles: { input: { dir: string; from: string; to: string }; output: ChangedFiles }
  /** The lock files of a commit, each by its path and by its name and content. */
  lockFiles: { input: { dir: string; sha: string }; output: LockFile[] }
  /** What lock files name; null for one that is not what its name says. */
  readLocks: { input: { dir: string; files: LockFile[] }; output: { lock: string; packages: PackageRef[] | null }[] }
  deleteRef: { input: { dir: string; branch: string; expected: string } & Remote; output: MergeResult }
  /** What became of one file between two commits, as a diff without context. */
  fileChange: { input: { dir: string; from: string; to: string; path: string }; output: string }
  /** The graphs of large repositories, out of the index of commits. */
  readGraphs: { input: { repositories: string[] }; output: { repository: string; parts: GraphParts }[] }
  /** Hashes, a line each: one text crosses between threads at once, a million of them do not. */
  newCommits: { input: { dir: string; tips: string[]; known: string[] }; output: string }
  readCommits: { input: { dir: string; shas: string[] }; output: RawCommit[] }
  diff: { input: { dir: string; from: string | null; to: string }; output: { diff: string; isCut: boolean } }
  /** What commits change together, given in the order of history. */
  wholeChange: { input: { dir: string; shas: string[] }; output: WholeDiff }
  trackedFiles: { input: { dir: string; sha: string }; output: string[] }
  blame: { input: { dir: string; sha: string; path: string; line: number }; output: BlamedLine | null }
  /** A file at a commit; null where there is none of this path. */
  readFile: { input: { dir: string; sha: string; path: string }; output: FileAt | null }
  /** The content of a hash, whatever file has it; null where there is none, or it is larger than asked for. */
  readBlob: { input: { dir: string; hash: string; maxBytes: number }; output: Uint8Array | null }
  /** Which commit each line of a file came with. */
  blameFile: { input: { dir: string; sha: string; path: string }; output: BlamedRun[] }
  /** Lines of the files of a commit that hold a text. */
  searchFiles: { input: { dir: string; sha: string; text: string; limit: number }; output: { lines: FoundLine[]; isCut: boolean } }
  /** Stack traces read with what is known of the releases that they come from. */
  readTraces: { input: { traces: PlacedTrace[] }; output: Trace[] }
  /** Looks anew at maps, tags and what people said. */
  forgetCode: { input: object; output: undefined }
}

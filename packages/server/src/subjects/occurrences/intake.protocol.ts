import type { Signal } from '#subjects/telemetry/index'

export interface IntakeData {
  volumePath: string
  dbPath: string
  /** Where the mirrors of repositories lie, `{name}.git`. */
  mirrorsDir: string
  keepPerMinute: number
  /** What the other names of people in telemetry are made with. */
  personKey: string
}
export interface IntakeInput {
  signal: Signal
  encoding: 'json' | 'protobuf'
  body: Uint8Array
  receivedAtMs: number
  /** The only project whose services may be in it; null for all. */
  project?: string | null
  /** The only services that may be in it; empty for all. */
  services?: readonly string[]
}
/** `malformed` is the sender's mistake; otherwise all records are durable, apart from the refused ones. */
export type IntakeOutput = { kind: 'stored'; stored: number; refused: number; why: string } | { kind: 'malformed'; why: string }
export interface IntakeMethods {
  take: { input: IntakeInput; output: IntakeOutput }
  forgetChanges: { input: { upToCursor: number }; output: undefined }
  /** False where one of them is not there. */
  mergeGroups: { input: { from: string; into: string }; output: boolean }
  /** False where there is no such merge, or where the other has gone into a third since. */
  unmergeGroup: { input: { from: string }; output: boolean }
  /**
   * The group that an occurrence and all that fails at its line belong to now; null when there is nothing to move or to tell apart. `to` is
   * null for a group of its own.
   */
  moveLine: { input: { occurrenceId: number; to: string | null; includesEarlier: boolean }; output: string | null }
  /** Finds anew what a service's releases (null: all) sent, after more became known of their code. */
  refind: { input: { service: string; release: string | null }; output: { merged: number; made: number } }
  /** Looks anew at maps, tags and what people said, for what comes. */
  forgetCode: { input: object; output: undefined }
  /**
   * Keeps source maps of one release. How many groups turned out to be one; `why` says what is wrong with a text that is no source map:
   * then none is kept.
   */
  keepMaps: {
    input: { service: string; release: string; files: { file: string; text: string }[]; receivedAtMs: number }
    output: { merged: number } | { why: string }
  }
  /** Removes what is older, and of each group what is beyond the newest so many; how many went. Counts stay. */
  prune: { input: { beforeMs: number; perGroupMax: number }; output: number }
  /** One step of looking for traces and resources that no occurrence has any more; true when they are all gone. */
  sweep: { input: object; output: boolean }
}

import type { Signal } from '../adapters/otlp/read-otlp.js'

export interface IntakeInput {
  signal: Signal
  encoding: 'json' | 'protobuf'
  body: Uint8Array
  receivedAtMs: number
}
/** `malformed` is the sender's mistake; otherwise all records are durable, apart from the refused ones. */
export type IntakeOutput = { kind: 'stored'; stored: number; refused: number; why: string } | { kind: 'malformed'; why: string }
export interface IntakeMethods {
  take: { input: IntakeInput; output: IntakeOutput }
  forgetChanges: { input: { upToCursor: number }; output: void }
  /** False where one of them is not there. */
  mergeGroups: { input: { from: string; into: string }; output: boolean }
  /** The new group, or null when all of the group fails at that line. */
  splitGroup: { input: { occurrenceId: number }; output: string | null }
  /** How many groups turned out to be one; `why` says what is wrong with a text that is no source map. */
  keepMap: {
    input: { service: string; release: string; file: string; text: string; receivedAtMs: number }
    output: { merged: number } | { why: string }
  }
  /** Removes what is older, and of each group what is beyond the newest so many; how many went. Counts stay. */
  prune: { input: { beforeMs: number; perGroupMax: number }; output: number }
}

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
}

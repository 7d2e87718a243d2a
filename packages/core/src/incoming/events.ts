import type { HookReading, HOOK_PROOFS } from './hook-reading.js'

/** The journal's events of what comes in. */
export interface IncomingEvents {
  /** A way in for one program, new or changed. */
  'hook-set': {
    project: string
    hookId: string
    name: string
    proof: { kind: (typeof HOOK_PROOFS)[number]; header: string }
    readings: HookReading[]
  }
  'hook-removed': { project: string; hookId: string }
}

import type { IncidentFacts, ItemRole } from './wire.js'

/** The journal's events of incidents and their bodies. */
export interface IncidentsEvents {
  'incident-opened': { project: string; number: number } & IncidentFacts
  /** What is said of it now; what is left out stays. */
  'incident-changed': { project: string; number: number; changes: Partial<IncidentFacts> }
  /** `happenedAtMs` is when what is noted happened, which may be before it is written down. */
  'incident-noted': { project: string; number: number; noteId: string; text: string; happenedAtMs: number }
  'incident-note-removed': { project: string; number: number; noteId: string }
  /** It is over since then, or (null) goes on. */
  'incident-ended': { project: string; number: number; overAtMs: number | null }
  /** An item stands for it in a role, or (null) does not any more. */
  'incident-item-tied': { project: string; number: number; key: string; role: ItemRole | null }
}

import type { Db } from '../db/open.js'
import { applyEvidenceEvent } from './apply-evidence.js'
import { applyInboxEvent } from './apply-inbox.js'
import { applyItemEvent } from './apply-items.js'
import { applySetupEvent } from './apply-setup.js'
import { applyTalkEvent } from './apply-talk.js'
import { applyTriageEvent } from './apply-triage.js'
import type { JournalEntry } from './events.js'

/** Brings one event into the tables: the same code serves the live write and the rebuild of `verify`. Each kind belongs to exactly one family. */
export function applyEvent(db: Db, entry: JournalEntry): void {
  const isTaken =
    applyItemEvent(db, entry) ||
    applyTalkEvent(db, entry) ||
    applyInboxEvent(db, entry) ||
    applyTriageEvent(db, entry) ||
    applyEvidenceEvent(db, entry) ||
    applySetupEvent(db, entry)
  if (!isTaken && entry.kind !== 'mail-sent' && entry.kind !== 'fault-in-release') throw new Error(`no table takes the event ${entry.kind}`)
}

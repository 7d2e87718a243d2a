import type { NoteSort } from './wire.js'

/** What is looked at, as somebody writes it. */
interface Written {
  project: string
  explorationId: string
  question: string
  text: string
  points: string[]
  /** Keys of the requirements and items that it is about. */
  about: string[]
  /** `service@version`. */
  release: string | null
  /** How long it is to take at most. */
  boxMinutes: number | null
}
/** Which exploration. */
interface Of {
  project: string
  explorationId: string
}

/** The journal's events of explorations and their bodies. */
export interface ExploringEvents {
  'exploration-begun': Written
  'exploration-changed': Written
  'exploration-point-set': Of & { point: string; isDone: boolean }
  /** Its clock runs from here, or stands. */
  'exploration-clock-set': Of & { isRunning: boolean }
  'exploration-noted': Of & { noteId: string; sort: NoteSort; words: string; item: string | null }
  'exploration-note-removed': Of & { noteId: string }
  /** It is over, with what came of it; or goes on. */
  'exploration-ended': Of & { isEnded: boolean; words: string }
}

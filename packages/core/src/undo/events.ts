/** The journal's events of undo and their bodies. */
export interface UndoEvents {
  'change-undone': { seq: number; key: string; kind: string }
}

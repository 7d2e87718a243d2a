import type { UndoEvents } from '@dystracer/core/undo/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of undo make stale, beside the things that they are about. */
export const undoLive: Refreshes<UndoEvents> = {
  'change-undone': {},
}

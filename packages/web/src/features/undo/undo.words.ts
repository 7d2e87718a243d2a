import type { UndoEvents } from '@dystracer/core/undo/events'
import type { EventWords } from '#shared/lib/event-words'

export const undoWords: EventWords<UndoEvents> = {
  'change-undone': () => 'took a change back',
}

import type { LookingEvents } from '@dystracer/core/looking/events'
import type { EventWords } from '#shared/lib/event-words'

export const lookingWords: EventWords<LookingEvents> = {
  'view-saved': ({ name }) => `saved the view “${name}”`,
  'view-removed': () => 'removed a view',
  'view-pinned': ({ isPinned }) => (isPinned ? 'pinned a view' : 'took a view out of the index'),
}

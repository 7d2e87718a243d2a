import type { RequirementsEvents } from '@dystracer/core/requirements/events'
import type { EventWords } from '#shared/lib/event-words'

export const requirementsWords: EventWords<RequirementsEvents> = {
  'requirement-written': ({ key, revision }) => `wrote revision ${revision} of ${key}`,
}

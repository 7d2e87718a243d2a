import type { RequirementsEvents } from '@dystracer/core/requirements/events'
import type { EventWords } from '#shared/lib/event-words'

export const requirementsWords: EventWords<RequirementsEvents> = {
  'requirement-written': ({ key, revision }) => `wrote revision ${revision} of ${key}`,
  'requirement-placed': ({ key, parent }) => (parent === null ? `put ${key} at the top of its document` : `put ${key} below ${parent}`),
  'requirement-retired': ({ key, words }) => `retired ${key}: ${words}`,
  'requirement-restored': ({ key }) => `let ${key} hold again`,
}

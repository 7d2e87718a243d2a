import type { RequirementsEvents } from '@dystracer/core/requirements/events'
import type { EventWords } from '#shared/lib/event-words'

export const requirementsWords: EventWords<RequirementsEvents> = {
  'requirement-written': ({ key, revision, because }) => `wrote revision ${revision} of ${key}${because ? `, because: ${because}` : ''}`,
  'links-confirmed': ({ key, linkIds, revision }) =>
    `said that ${linkIds.length === 1 ? 'a tie' : `${linkIds.length} ties`} to ${key} ${linkIds.length === 1 ? 'holds' : 'hold'} for revision ${revision}`,
  'gap-agreed': ({ reason, until }) => `agreed to leave a gap${until === null ? '' : ` until ${until}`}: ${reason}`,
  'baseline-made': ({ name, snapshot }) => `made the baseline “${name}” of ${snapshot.requirements.length} requirements`,
  'baseline-agreed': ({ name }) => `agreed to the baseline “${name}”`,
  'baseline-withdrawn': ({ name, words }) => `withdrew the baseline “${name}”: ${words}`,
  'gap-reopened': () => 'agreed no longer to leave a gap',
  'requirement-placed': ({ key, parent }) => (parent === null ? `put ${key} at the top of its document` : `put ${key} below ${parent}`),
  'requirement-retired': ({ key, words }) => `retired ${key}: ${words}`,
  'requirement-restored': ({ key }) => `let ${key} hold again`,
}

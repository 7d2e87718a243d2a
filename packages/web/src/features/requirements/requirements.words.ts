import type { RequirementsEvents } from '@dystracer/core/requirements/events'
import type { EventWords } from '#shared/lib/event-words'

export const requirementsWords: EventWords<RequirementsEvents> = {
  'requirement-written': ({ key, revision, because }) => `wrote revision ${revision} of ${key}${because ? `, because: ${because}` : ''}`,
  'links-confirmed': ({ key, linkIds, revision }) =>
    `said that ${linkIds.length === 1 ? 'a tie' : `${linkIds.length} ties`} to ${key} ` +
    `${linkIds.length === 1 ? 'holds' : 'hold'} for revision ${revision}`,
  'gap-agreed': ({ reason, until }) => `agreed to leave a gap${until === null ? '' : ` until ${until}`}: ${reason}`,
  'baseline-made': ({ name, snapshot }) => `made the baseline “${name}” of ${snapshot.requirements.length} requirements`,
  'baseline-agreed': ({ name }) => `agreed to the baseline “${name}”`,
  'baseline-withdrawn': ({ name, words }) => `withdrew the baseline “${name}”: ${words}`,
  'gap-reopened': () => 'agreed no longer to leave a gap',
  'requirement-placed': ({ key, parent }) => (parent === null ? `put ${key} at the top of its document` : `put ${key} below ${parent}`),
  'requirement-described': ({ key, attributes, origin }) =>
    Object.keys(attributes).length > 0
      ? `said of ${key}: ${Object.entries(attributes)
          .map(([name, value]) => `${name} ${value.length === 0 ? 'nothing' : [value].flat().join(', ')}`)
          .join('; ')}`
      : `took up what ${key} is in the file ${origin?.document ?? ''}`,
  'requirement-attributes-defined': ({ attributes }) =>
    `said which attributes requirements have: ${attributes.map(({ name }) => name).join(', ')}`,
  'writing-accepted': ({ key, words, reason }) =>
    reason === null ? `takes “${words}” in ${key} for a finding again` : `lets “${words}” in ${key} stand: ${reason}`,
  'requirement-document-kept': ({ document }) => `brought in the file ${document.title || document.id}`,
  'requirements-related': ({ name, from, to }) => `said that ${from} ${name} ${to}`,
  'requirements-unrelated': ({ name, from, to }) => `took back that ${from} ${name} ${to}`,
  'requirement-picture-kept': ({ path }) => `kept the picture ${path}`,
  'requirement-retired': ({ key, words }) => `retired ${key}: ${words}`,
  'requirement-restored': ({ key }) => `let ${key} hold again`,
}

import type { SetupEvents } from '@dystracer/core/setup/events'
import type { EventWords } from '#shared/lib/event-words'

export const setupWords: EventWords<SetupEvents> = {
  'project-created': ({ prefix, name }) => `made the project ${prefix}, “${name}”`,
  'project-renamed': ({ name }) => `called the project “${name}”`,
  'prefix-taken': ({ prefix }) => `took the prefix ${prefix} for requirements`,
  'component-removed': ({ name }) => `took the component ${name} off`,
  'component-added': ({ name }) => `set up the component ${name}`,
  'type-defined': ({ type }) => `set up the type ${type}`,
  'own-field-defined': ({ name }) => `set up the field ${name}`,
  'type-removed': ({ type }) => `removed the type ${type}`,
  'own-field-removed': ({ fieldId }) => `took the field ${fieldId} off the forms`,
  'own-fields-ordered': () => 'put the own fields in order',
  'milestone-set': ({ name }) => `set up the milestone ${name}`,
  'milestone-removed': ({ name }) => `removed the milestone ${name}`,
  'label-coloured': ({ label, colour }) => `gave the label ${label} the colour ${colour}`,
  'stage-rule-set': ({ stage, needs }) =>
    needs.length > 0 ? `asked for ${needs.join(', ')} before ${stage}` : `asked for nothing more before ${stage}`,
  'setting-changed': ({ name, value }) =>
    name === 'archived' ? (value === '' ? 'opened the project again' : 'archived the project') : `set ${name} to ${value || 'nothing'}`,
}

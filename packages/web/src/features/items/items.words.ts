import { ITEM_FIELDS } from '@dystracer/core/setup/item-fields'
import type { ItemsEvents } from '@dystracer/core/items/events'
import type { EventWords, NameOf } from '#shared/lib/event-words'

export const itemsWords: EventWords<ItemsEvents> = {
  'item-logged': ({ title }) => `logged “${title}”`,
  'item-moved': ({ key, newKey }) => `moved it from ${key} to ${newKey}`,
  'item-changed': ({ changes }, nameOf) =>
    Object.entries(changes)
      .map(
        ([field, change]) =>
          `changed ${FIELD[field] ?? field} from ${shown(field, change.from, nameOf)} to ${shown(field, change.to, nameOf)}`,
      )
      .join('; '),
  'item-baselined': ({ stage, words }) => `imported it as “${words || stage}”`,
  'item-affected-said': ({ service, release, environment, verdict }) =>
    `${
      verdict === null ? 'took back what was said of' : verdict === 'not' ? 'said that it is not in' : 'said that it is in'
    } ${service} ${release} in ${environment}`,
  'item-started': ({ branch }) => `started work on ${branch}`,
  'item-verified': () => 'verified it',
  'item-reopened': () => 'opened it again',
  'item-dated': () => 'says when it was changed last where it came from',
  'repository-unaffected': ({ repository, words }) =>
    words === null ? `said that ${repository} needs the fix after all` : `said that ${repository} needs nothing of the fix: ${words}`,
  'claim-accepted': ({ stage, words }) => `accepted the claim of ${stage}: ${words}`,
  'claim-taken-back': ({ stage }) => `took back the claim of ${stage}`,
  'stage-claimed': ({ stage }) => `claimed ${stage}`,
  'follower-changed': ({ isOn }) => (isOn ? 'follows it' : 'stopped following'),
}

const FIELD: Record<string, string> = Object.fromEntries(Object.entries(ITEM_FIELDS).map(([name, { label }]) => [name, label]))

function shown(field: string, value: unknown, nameOf: NameOf): string {
  if (value === null || value === undefined || value === '') return 'nothing'
  if (field === 'ownerId') return nameOf(String(value))
  if (field === 'coOwnerIds' || field === 'namedIds') return (value as string[]).map(nameOf).join(', ') || 'nobody'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'object' && !Array.isArray(value))
    return (
      Object.entries(value)
        .flatMap(([name, entry]) => (entry === null ? [] : [`${name} ${String(entry)}`]))
        .join(', ') || 'nothing'
    )
  return field === 'description' ? 'its text' : Array.isArray(value) ? value.join(', ') || 'nothing' : String(value)
}

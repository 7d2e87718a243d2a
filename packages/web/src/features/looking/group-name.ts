import type { OwnField } from '@dystracer/core/setup/own-field'
import { formatMinutes } from '@dystracer/core/text/duration'

/** What a group, a column or a lane is called, by the field that it stands for and its value. */
export function groupName(
  field: string,
  value: string,
  nameOf: (actor: string | null) => string,
  own?: Pick<OwnField, 'name' | 'kind'>,
): string {
  if (value === '') return field === 'owner' ? 'nobody’s' : field === 'parent' ? 'part of nothing' : `no ${own?.name ?? field}`
  if (own?.kind === 'several-of' && value.startsWith('[')) return (JSON.parse(value) as string[]).join(', ') || `no ${own.name}`
  if (field === 'owner' || own?.kind === 'person') return nameOf(`person:${value}`)
  if (field === 'severity') return `severity ${value}`
  if (field === 'points') return value === '1' ? '1 point' : `${value} points`
  if (field === 'estimate') return formatMinutes(Number(value))
  if (field === 'parent') return `part of ${value}`
  return field === 'stage' ? value.replace('in-review', 'in review') : value
}

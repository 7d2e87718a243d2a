/** What a group, a column or a lane is called, by the field that it stands for and its value. */
export function groupName(field: string, value: string, nameOf: (actor: string | null) => string): string {
  if (value === '') return field === 'owner' ? 'nobody’s' : `no ${field}`
  if (field === 'owner') return nameOf(`person:${value}`)
  if (field === 'severity') return `severity ${value}`
  return field === 'stage' ? value.replace('in-review', 'in review') : value
}

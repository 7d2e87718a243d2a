import { PRIORITIES } from '@dystracer/core/setup/field-use'

/** Values that are their own labels, as choices. */
export const toChoices = <Value extends string>(values: readonly Value[]): { value: Value; label: string }[] =>
  values.map((value) => ({ value, label: value }))
export const SEVERITIES = toChoices(['1', '2', '3', '4', '5'])
export const PRIORITY_CHOICES = toChoices(PRIORITIES)

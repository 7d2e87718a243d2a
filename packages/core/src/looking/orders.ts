import type { OwnPlace } from '#setup/own-field'

/** Orders of a list: worst severity, newest, last changed, soonest due, and what fits the words of the filter best. */
export const ITEM_SORTS = ['worst', 'newest', 'updated', 'due', 'best'] as const
/** By what a list of items is ordered. */
export type ItemSort = (typeof ITEM_SORTS)[number]
/** What a list can be grouped by. */
export const GROUP_FIELDS = [
  'stage',
  'owner',
  'component',
  'milestone',
  'sprint',
  'severity',
  'priority',
  'type',
  'points',
  'estimate',
  'parent',
] as const
/** By what a list of items is grouped; an own field by its place. */
export type GroupField = (typeof GROUP_FIELDS)[number] | OwnPlace

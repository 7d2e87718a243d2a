import type { ItemsEvents } from '@dystracer/core/items/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of items make stale, beside the things that they are about. */
export const itemsLive: Refreshes<ItemsEvents> = {
  'item-logged': { item: ['Items', 'Triage'] },
  'item-moved': { item: ['Items'] },
  'item-changed': { item: ['Triage'] },
  'item-baselined': {},
  'item-affected-said': {},
  'item-started': {},
  'item-verified': {},
  'item-reopened': { item: ['Triage'] },
  'stage-claimed': {},
  'item-dated': {},
  'repository-unaffected': {},
  'claim-accepted': {},
  'claim-taken-back': {},
  'follower-changed': {},
}

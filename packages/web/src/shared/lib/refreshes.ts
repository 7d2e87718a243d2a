import type { TagName } from './api'

/**
 * What an event makes stale beside the things that it names: where it shows an item that the reader may see, where it is about the reader,
 * or always.
 */
export interface Refresh {
  item?: readonly TagName[]
  mine?: readonly TagName[]
  always?: readonly TagName[]
}
/** The same for each kind of event; a kind that is missing does not compile. */
export type Refreshes<Events> = { readonly [Kind in keyof Events]: Refresh }

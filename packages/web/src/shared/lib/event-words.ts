import type { NodeRef } from '@dystracer/core/basics/node-ref'

export type NameOf = (actor: string | null) => string
/** An event's body as the history tells it: a ladder is told by the stage that it reached, results by their number. */
export type Told<Body> = Omit<Body, 'ladder' | 'results'>
/** What happened, in words without who did it, for each kind of event; a kind without words does not compile. */
export type EventWords<Events> = { readonly [Kind in keyof Events]: (told: Told<Events[Kind]>, nameOf: NameOf) => string }

/** A thing in a sentence: its key, or what it is and its short name. */
export function thingInWords(ref: NodeRef): string {
  const rest = ref.id.slice(ref.id.indexOf('/') + 1)
  if (ref.kind === 'commit') return `commit ${rest.slice(0, 7)}`
  return ref.kind === 'item' || ref.kind === 'requirement' || ref.kind === 'fault' ? ref.id : `${ref.kind.replace('-', ' ')} ${rest}`
}

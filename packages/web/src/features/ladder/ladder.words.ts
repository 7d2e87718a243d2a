import type { LadderEvents } from '@dystracer/core/ladder/events'
import type { EventWords } from '#shared/lib/event-words'

export const ladderWords: EventWords<LadderEvents> = {
  'ladder-moved': (told) => {
    const { from, to, hasComeBack } = told as typeof told & { to: string; hasComeBack: boolean }
    if (hasComeBack) return 'came back: the ladder is contradicted'
    return from === to ? 'took in new evidence' : `moved the ladder from ${from} to ${to}`
  },
}

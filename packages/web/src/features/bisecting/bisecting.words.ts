import type { BisectingEvents } from '@dystracer/core/bisecting/events'
import type { EventWords } from '#shared/lib/event-words'

export const bisectingWords: EventWords<BisectingEvents> = {
  'bisection-begun': ({ name }) => `searches by building for what broke ${name}`,
  'bisection-ended': ({ outcome, guilty }) =>
    outcome === 'called-off'
      ? 'called a search by building off'
      : outcome === 'gone'
        ? 'ended a search by building: its commits are gone'
        : guilty.length === 1
          ? `found by building that ${guilty[0]?.slice(0, 7)} broke it`
          : `found by building that one of ${guilty.length} commits broke it`,
}

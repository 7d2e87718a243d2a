import type { FindingsEvents } from '@dystracer/core/findings/events'
import type { EventWords } from '#shared/lib/event-words'

export const findingsWords: EventWords<FindingsEvents> = {
  'finding-set-aside': ({ what, untilDay, why }) =>
    untilDay ? `set the finding “${what}” aside until ${untilDay}: ${why}` : `counts the finding “${what}” again`,
}

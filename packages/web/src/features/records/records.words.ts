import type { RecordsEvents } from '@dystracer/core/records/events'
import { type EventWords, thingInWords } from '#shared/lib/event-words'

export const recordsWords: EventWords<RecordsEvents> = {
  'link-asserted': ({ kind, to }) => `${LINK[kind] ?? kind} ${thingInWords(to)}`,
  'link-retracted': ({ kind, to }) => `took back: ${LINK[kind] ?? kind} ${thingInWords(to)}`,
  'link-vetoed': ({ source }) => `keeps ${source} from tying it again`,
}

const LINK: Record<string, string> = {
  tied: 'tied',
  fixes: 'tied as its fix',
  breaks: 'tied as breaking',
  implements: 'tied as implementing',
  'same-as': 'the same as',
  'see-also': 'see also',
}

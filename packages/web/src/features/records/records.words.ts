import type { RecordsEvents } from '@dystracer/core/records/events'
import { linkKindOf } from '@dystracer/core/records/link-kinds'
import { type EventWords, thingInWords } from '#shared/lib/event-words'

export const recordsWords: EventWords<RecordsEvents> = {
  'link-asserted': ({ kind, to }) => `${linkKindOf(kind)?.told ?? kind} ${thingInWords(to)}`,
  'link-retracted': ({ kind, to }) => `took back: ${linkKindOf(kind)?.told ?? kind} ${thingInWords(to)}`,
  'link-vetoed': ({ source }) => `keeps ${source} from tying it again`,
}

import type { TrendsEvents } from '@dystracer/core/trends/events'
import { plural } from '#shared/lib/format'
import type { EventWords } from '#shared/lib/event-words'

export const trendsWords: EventWords<TrendsEvents> = {
  'pinned-charts-set': ({ charts }) => (charts.length === 0 ? 'pinned no chart any more' : `pinned ${plural(charts.length, 'chart')}`),
}

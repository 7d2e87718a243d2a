import type { QualityEvents } from '@dystracer/core/quality/events'
import { plural } from '#shared/lib/format'
import type { EventWords } from '#shared/lib/event-words'

export const qualityWords: EventWords<QualityEvents> = {
  'quality-rules-set': ({ rules }) => `set the rules about what builds bring: ${plural(rules.length, 'rule')}`,
  'quality-rule-fired': ({ what, outcome }) => (outcome === 'logged' ? `took “${what}”` : `gathered “${what}” with others`),
}

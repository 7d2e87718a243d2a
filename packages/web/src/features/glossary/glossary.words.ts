import type { GlossaryEvents } from '@dystracer/core/glossary/events'
import type { EventWords } from '#shared/lib/event-words'

export const glossaryWords: EventWords<GlossaryEvents> = {
  'term-set': ({ term, before }) => (before === null ? `said what “${term}” means` : `calls “${before}” “${term}” from now on`),
  'term-removed': ({ term }) => `took “${term}” out of the glossary`,
}

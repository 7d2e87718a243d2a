import type { ExploringEvents } from '@dystracer/core/exploring/events'
import type { EventWords } from '#shared/lib/event-words'

export const exploringWords: EventWords<ExploringEvents> = {
  'exploration-begun': ({ question }) => `is to explore: ${question}`,
  'exploration-changed': ({ question }) => `changed what is to be explored: ${question}`,
  'exploration-point-set': ({ point, isDone }) => (isDone ? `looked at “${point}”` : `has not looked at “${point}” yet`),
  'exploration-clock-set': ({ isRunning }) => (isRunning ? 'began to look around' : 'stopped looking around for now'),
  'exploration-noted': ({ sort, item }) => (item === null ? `noted: ${sort}` : `noted trouble while exploring, and logged it as ${item}`),
  'exploration-note-removed': () => 'took back a note of an exploration',
  'exploration-ended': ({ isEnded, words }) => (isEnded ? `ended an exploration${words === '' ? '' : `: ${words}`}` : 'goes on exploring'),
}

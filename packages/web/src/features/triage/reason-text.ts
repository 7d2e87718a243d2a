import type { TriageEntry } from '@dystracer/core/triage/wire'
import type { TriageSource } from '@dystracer/core/triage/decision'
import { plural } from '#shared/lib/format'

/** Where what waits came from, in one word and in a phrase. */
export const SOURCE_WORD: Record<TriageSource, string> = {
  person: 'person',
  'mail-or-form': 'mail',
  fault: 'fault',
  'failing-test': 'test',
  finding: 'finding',
  incident: 'incident',
  import: 'import',
  'came-back': 'back',
}
export const SOURCE_PHRASE: Record<TriageSource, string> = {
  person: 'from people',
  'mail-or-form': 'by mail or form',
  fault: 'from faults',
  'failing-test': 'from failing tests',
  finding: 'from findings',
  incident: 'from incidents',
  import: 'imported',
  'came-back': 'came back',
}

type Reason = TriageEntry['reasons'][number]
const REASON_TEXT: { [Code in Reason['code']]: (reason: Extract<Reason, { code: Code }>, isGuess: boolean) => string } = {
  'came-back': () => 'came back',
  answered: () => 'answered',
  severity: ({ severity }, isGuess) => `severity ${severity}${isGuess ? ' guess' : ''}`,
  people: ({ count }) => plural(count, 'person', 'people'),
  occurrences: ({ count }) => plural(count, 'time'),
  'new-in': ({ release }) => `new in ${release}`,
  waits: ({ days }) => `waits ${plural(days, 'day')}`,
}

/** Why an entry stands where it does, in words: “severity 1 guess, 19 people, new in kiln 4.1.4”. */
export function reasonText(entry: Pick<TriageEntry, 'reasons' | 'isGuess'>): string {
  return entry.reasons
    .map((reason) => (REASON_TEXT[reason.code] as (reason: Reason, isGuess: boolean) => string)(reason, entry.isGuess))
    .join(', ')
}

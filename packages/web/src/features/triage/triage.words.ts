import type { TriageEvents } from '@dystracer/core/triage/events'
import type { Decision } from '@dystracer/core/triage/decision'
import type { EventWords } from '#shared/lib/event-words'

export const triageWords: EventWords<TriageEvents> = {
  'item-accepted': () => 'accepted it',
  'item-rejected': ({ disposition }) => `rejected it: ${disposition.replaceAll('-', ' ')}`,
  'acceptance-withdrawn': () => 'took the acceptance back',
  'item-merged': ({ key, into }) => `put ${key} into ${into}`,
  'item-split': ({ key }) => `split ${key} off again`,
  'reporter-asked': ({ words }) => `asked the reporter: “${words}”`,
  'reporter-answered': () => 'answered what was asked',
  'asking-ended': () => 'asked no longer',
  'triage-decided': ({ decision }) => DECIDED[decision],
}

const DECIDED: Record<Decision, string> = {
  accept: 'decided: ours',
  'same-as': 'decided: the same as another',
  ask: 'decided to ask',
  reject: 'decided: not ours to change',
}

import type { FaultsEvents } from '@dystracer/core/faults/events'
import type { EventWords } from '#shared/lib/event-words'

const FIRED: Record<NonNullable<FaultsEvents['rule-fired']['outcome']>, string> = {
  logged: 'logged an item for',
  tied: 'tied to an open item',
  gathered: 'was over its budget and gathered',
  reopened: 'opened the item again of',
  raised: 'raised the item of',
  remarked: 'remarked on the item of',
  silenced: 'silenced',
  told: 'told people of',
  incident: 'opened an incident for',
}
type Acted = FaultsEvents['fault-acted']
const ACTED: Record<Acted['act'], (fault: string, after: Acted['after'], nameOf: (actor: string | null) => string) => string> = {
  assign: (fault, { ownerId }, nameOf) => `gave ${fault} to ${nameOf(ownerId)}`,
  silence: (fault, { silence }) => `silenced ${fault}${silence?.reason ? `: ${silence.reason}` : ''}`,
  hear: (fault) => `let ${fault} be heard again`,
  judge: (fault, { judgement }) =>
    judgement?.kind === 'fixed'
      ? `said that ${fault} is fixed in ${judgement.release}`
      : `said that ${fault} is not ours: ${judgement?.reason}`,
  unjudge: (fault) => `took back what was said of ${fault}`,
  undo: (fault) => `set ${fault} back to how it stood`,
}

export const faultsWords: EventWords<FaultsEvents> = {
  'scrub-rule-added': ({ name }) => `has ${name} taken out of what programs send`,
  'scrub-rule-removed': () => 'removed a rule of what is taken out',
  'rule-changed': ({ name }) => `changed the intake rule “${name}”`,
  'rule-removed': ({ name }) => `removed the intake rule “${name}”`,
  'rule-added': ({ name }) => `set up the intake rule “${name}”`,
  'fault-merged': ({ number, into }) => `put F-${number} into F-${into}`,
  'fault-unmerged': ({ number, from }) => `took F-${number} out of F-${from} again`,
  'fault-split': ({ number }) => `took a part of F-${number} out`,
  'fault-reread': ({ number }) => `learned more of where F-${number} fails`,
  'fault-found': ({ number, service }) => `met F-${number} in ${service} for the first time`,
  'fault-in-release': ({ fault, release, environment }) => `saw ${fault} in ${release} (${environment})`,
  'rules-ordered': () => 'put the intake rules in another order',
  'intake-budget-set': ({ perHour, perDay }) =>
    perHour === null && perDay === null
      ? 'took away how many items intake rules may log'
      : `lets intake rules log ${[perHour && `${perHour} items an hour`, perDay && `${perDay} a day`].filter(Boolean).join(' and ')}`,
  'rule-fired': ({ fault, outcome = 'logged' }) => `${FIRED[outcome]} F-${fault}`,
  'fault-acted': ({ number, act, after }, nameOf) => ACTED[act](`F-${number}`, after, nameOf),
  'fault-item-untied': ({ number }) => `said that it does not stand for F-${number}`,
}

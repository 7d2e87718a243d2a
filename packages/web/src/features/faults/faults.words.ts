import type { FaultsEvents } from '@dystracer/core/faults/events'
import type { EventWords } from '#shared/lib/event-words'

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
  'rule-fired': ({ fault }) => `fired for F-${fault}`,
}

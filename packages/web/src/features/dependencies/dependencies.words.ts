import type { DependenciesEvents } from '@dystracer/core/dependencies/events'
import { plural } from '#shared/lib/format'
import type { EventWords } from '#shared/lib/event-words'

export const dependenciesWords: EventWords<DependenciesEvents> = {
  'bill-received': ({ release, packages }) => `sent a bill of materials of ${release}: ${plural(packages.length, 'package')}`,
  'bill-taken-back': ({ release }) => `took the bill of materials of ${release} back`,
}

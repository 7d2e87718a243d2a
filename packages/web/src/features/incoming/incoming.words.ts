import type { HookEvent, HookField } from '@dystracer/core/incoming/hook-reading'
import type { Delivery } from '@dystracer/core/incoming/wire'
import type { IncomingEvents } from '@dystracer/core/incoming/events'
import type { EventWords } from '#shared/lib/event-words'

export const incomingWords: EventWords<IncomingEvents> = {
  'hook-set': ({ name }) => `set up the hook “${name}”`,
  'hook-removed': ({ hookId }) => `closed the hook ${hookId}`,
}

/** What a message tells, as it is chosen. */
export const TELLS_WORDS: Record<HookEvent, string> = {
  push: 'something was pushed',
  'pull-request': 'a pull request changed',
  'build-started': 'a build began',
  'build-finished': 'a build ended',
  deployment: 'a release was deployed',
  incident: 'an incident began',
  'incident-over': 'an incident is over',
}

/** What each field of that is called; what it may hold where it takes no words of its own. */
export const FIELD_WORDS: Record<HookField, string> = {
  repository: 'repository: name or address',
  by: 'by whom',
  number: 'number',
  state: 'state: open, merged, closed',
  title: 'title',
  text: 'text',
  author: 'author',
  branch: 'branch',
  target: 'branch that it is for',
  commit: 'commit: the whole hash',
  merge: 'commit of the merge',
  opened: 'opened at',
  changed: 'changed at',
  build: 'name or number of the build',
  outcome: 'outcome: passed, broke, stopped',
  at: 'at what time',
  service: 'service',
  release: 'release',
  environment: 'environment',
  incident: 'name of the incident',
}

/** How it looks what became of an event. */
export const OUTCOME_LOOK: Record<Delivery['outcome'], string> = {
  taken: 'text-proof',
  'passed over': 'text-ink-2',
  'kept for later': 'text-ochre',
  refused: 'text-fault',
}

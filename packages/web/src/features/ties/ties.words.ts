import type { TiesEvents } from '@dystracer/core/ties/events'
import type { EventWords } from '#shared/lib/event-words'

export const tiesWords: EventWords<TiesEvents> = {
  'commit-excused': ({ repository, sha, needsNone }) =>
    needsNone
      ? `said that commit ${sha.slice(0, 7)} of ${repository} needs no item`
      : `said that commit ${sha.slice(0, 7)} of ${repository} needs an item after all`,
  'tie-decided': ({ sha, key, isRight }) =>
    isRight ? `said that commit ${sha.slice(0, 7)} is for ${key}` : `said that commit ${sha.slice(0, 7)} is not for ${key}`,
}

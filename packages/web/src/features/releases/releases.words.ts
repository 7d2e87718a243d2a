import type { ReleasesEvents } from '@dystracer/core/releases/events'
import type { EventWords } from '#shared/lib/event-words'

export const releasesWords: EventWords<ReleasesEvents> = {
  'service-added': ({ name, repository }) => `mapped the service ${name} to ${repository}`,
  'service-changed': ({ name }) => `changed what the service ${name} is built from`,
  'environment-changed': ({ name }) => `changed the environment ${name}`,
  'environment-removed': ({ name }) => `removed the environment ${name}`,
  'environment-added': ({ name }) => `set up the environment ${name}`,
  'release-found': ({ service, name }) => `found the release ${service} ${name}`,
  'release-withdrawn': ({ release, isWithdrawn, why }) => (isWithdrawn ? `withdrew ${release}: ${why}` : `let ${release} stand again`),
  'deployment-asked': ({ release, environment }) => `asked for ${release} in ${environment}`,
  'deployment-approved': () => 'approved a deployment',
  'deployment-failed': ({ why }) => `told that a deployment failed: ${why}`,
  'notes-published': ({ release, reader, isPublic }) =>
    `published the notes of ${release} for ${reader}${isPublic ? ', for everybody' : ''}`,
  'notes-withdrawn': ({ release, reader }) => `took the published notes of ${release} for ${reader} back`,
  'release-note-written': ({ release, reader, text }) =>
    `${text === '' ? 'took words out of' : 'wrote in'} the notes of ${release} for ${reader}`,
  'deployment-taken-back': ({ release, environment }) => `took back that ${release} runs in ${environment}`,
  'deployment-seen': ({ release, environment }) => `brought ${release} to ${environment}`,
}

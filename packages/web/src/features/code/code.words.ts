import type { CodeEvents } from '@dystracer/core/code/events'
import type { EventWords } from '#shared/lib/event-words'

export const codeWords: EventWords<CodeEvents> = {
  'repository-added': ({ name }) => `connected the repository ${name}`,
  'repository-disconnected': ({ name }) => `disconnected ${name}`,
  'refs-moved': ({ repository, newCommits, newCommitCount }) => `brought ${newCommitCount ?? newCommits.length} commits of ${repository}`,
  'pull-request-seen': ({ number, state }) => `told of pull request ${number}: ${state}`,
}

import type { CodeEvents } from '@dystracer/core/code/events'
import type { EventWords } from '#shared/lib/event-words'

export const codeWords: EventWords<CodeEvents> = {
  'repository-added': ({ name }) => `connected the repository ${name}`,
  'repository-disconnected': ({ name }) => `disconnected ${name}`,
  'main-lines-chosen': ({ name, mainBranch, longLines }) =>
    `made ${mainBranch} the main line of ${name}${longLines.length > 0 ? `, with ${longLines.join(', ')} as lines that live as long` : ''}`,
  'refs-moved': ({ repository, newCommits, newCommitCount }) => `brought ${newCommitCount ?? newCommits.length} commits of ${repository}`,
  'pull-request-seen': ({ number, state }) => `told of pull request ${number}: ${state}`,
}

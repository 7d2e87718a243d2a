// What other subjects may use of code.
export { type BuildRow, toBuild } from './build-state.js'
export { BUILD_COLUMNS, NAME_OF_BUILD, PULL_REQUEST_COLUMNS } from './code.queries.js'
export {
  authorsOfCommits,
  commitsOfPullRequest,
  containsAll,
  getCommit,
  graphOf,
  lineTips,
  mainBranchOf,
  mainTip,
  newestBuildState,
  pathsOf,
  servicesTouched,
  warmGraphs,
} from './commit-facts.js'
export { codeHostOf } from './code-host.slot.js'
export { buildTrouble, findCommit, findPullRequest, readPullRequest, readPullRequestDiff, toPullRequest } from './code.views.js'
export type { PullRequestRow } from './commit-facts.js'
export { accessOf, giveAccess, keyPairFor, openAccess } from './repository-access.js'
export { coverageOfBuild, measuredBuild } from './measured.js'
export { suspectsBetween } from './suspects.views.js'
export { renewWebhookSecret, webhookSecret } from './webhook-secret.js'

// What other subjects may use of reviews.
export { gatesOf } from './gates.views.js'
export {
  mergeOnto,
  remoteOf,
  requirePushed,
  requireRepository,
  settleMerged,
  takeBranchAway,
  throughGit,
  TRIAL_PREFIX,
} from './own-pull-requests.js'
export { mergeNow } from './pull-requests.commands.js'
export { dropWish } from './reviewing.commands.js'
export { GET_MERGE_TRIAL, LIST_MERGE_TRIAL, LIST_MERGE_WISHES, LIST_REPOSITORIES_WITH_WISHES } from './reviewing.queries.js'
export { membersOf, ownersOf } from './main-line-files.js'
export { followPullRequests, tipOf } from './own-pull-requests.js'
export { createBranch } from './pull-requests.commands.js'
export { pickMessage } from './carry.commands.js'
export { proposeFile } from './propose-file.commands.js'
export { seePullRequest, tiePullRequest } from './pull-request-ties.js'

// What other subjects may use of reviews.
export { membersOf, ownersOf } from './main-line-files.js'
export { followPullRequests, tipOf } from './own-pull-requests.js'
export { createBranch } from './pull-requests.commands.js'
export { proposeFile } from './propose-file.commands.js'
export { seePullRequest, tiePullRequest } from './pull-request-ties.js'

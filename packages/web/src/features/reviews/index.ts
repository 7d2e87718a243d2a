export { MergeGates } from './MergeGates'
export { PullRequestPane } from './PullRequestPane'
export { ReviewFilesPane } from './ReviewFilesPane'

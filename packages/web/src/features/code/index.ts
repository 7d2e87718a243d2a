export { CodePane } from './CodePane'
export { BranchPane, CommitPane, PullRequestPane } from './CodeThings'
export { Repositories } from './Repositories'

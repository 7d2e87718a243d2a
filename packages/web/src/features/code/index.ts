export { CodePane } from './CodePane'
export { BranchPane, CommitPane, ItemKeys } from './CodeThings'
export { ChangePullRequestDialog } from './PullRequestDialog'
export { Repositories } from './Repositories'

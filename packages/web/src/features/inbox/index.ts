export { InboxPane } from './InboxPane'
export { ChoicesPane } from './ChoicesPane'

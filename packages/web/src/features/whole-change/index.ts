export { WholeChangePane } from './WholeChangePane'

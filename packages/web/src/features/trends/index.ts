export { Covered } from './Covered'
export { PinnedPane } from './PinnedPane'
export { TestPace } from './TestPace'
export { TrendsPane } from './TrendsPane'

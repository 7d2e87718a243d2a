export { FaultEvidence } from './FaultEvidence'
export { FaultPane, FaultsPane } from './FaultPanes'

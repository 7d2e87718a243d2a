export { FaultEvidence } from './FaultEvidence'
export { FaultPane, FaultsPane } from './FaultPanes'
export { ConnectPane } from './ConnectPane'
export { OccurrencePane } from './OccurrencePane'

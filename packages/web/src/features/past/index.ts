export { LookBackDialog } from './LookBackDialog'
export { PastBand } from './PastBand'

export { LogDialog } from './LogDialog'
export { whyAlike } from './LookAlikes'

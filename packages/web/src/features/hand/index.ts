export { HandPanel } from './HandPanel'
export { TakeInHand } from './TakeInHand'
export { PrivateNote } from './PrivateNote'

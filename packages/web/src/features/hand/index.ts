export { HandPanel } from './HandPanel'
export { TakeInHand } from './TakeInHand'

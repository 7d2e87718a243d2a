export { TrainPane } from './TrainPane'
export { Trains } from './Trains'

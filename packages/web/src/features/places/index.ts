export { PassOver } from './PassOver'
export { PlaceGates } from './PlaceGates'

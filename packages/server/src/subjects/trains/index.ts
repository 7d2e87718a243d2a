// What other subjects may use of trains.
export { trainsWaitingFor } from './trains.views.js'

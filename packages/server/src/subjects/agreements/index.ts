// What other subjects may use of agreements.
export { agreementsWaitingFor } from './agreements.views.js'

// What other subjects may use of ties.
export { addTiesRoutes } from './ties.routes.js'
export { countUnexplainedLately } from './ties.views.js'

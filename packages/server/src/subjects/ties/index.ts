// What other subjects may use of ties: nothing but its routes, which the application adds.
export { addTiesRoutes } from './ties.routes.js'

// What other subjects may use of likeness.
export { likenessWorker } from './likeness.client.js'
export { findLookAlikes } from './likeness.views.js'

// What other subjects may use of findings.
export { findingsAt, type FindingsAt } from './findings.views.js'
export { broughtBy } from './brought.js'

// What other subjects may use of cases.
export { isShown, requireKnownRelease } from './cases.views.js'

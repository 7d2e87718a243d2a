// What other subjects may use of looking.
export { searchItems } from './looking.views.js'

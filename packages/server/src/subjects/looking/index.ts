// What other subjects may use of looking.
export { listItems, searchItems } from './looking.views.js'

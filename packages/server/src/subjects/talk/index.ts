// What other subjects may use of talk.
export { addComment, followersOf } from './comments.commands.js'
export { bookTime } from './time.commands.js'

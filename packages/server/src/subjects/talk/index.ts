// What other subjects may use of talk.
export { addComment, followersOf, writeImportedComment } from './comments.commands.js'
export { bookTime } from './time.commands.js'

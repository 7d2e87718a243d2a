// What other subjects may use of talk.
export { addComment, followersOf, writeImportedComment, writeRemark } from './comments.commands.js'
export { bookTime } from './time.commands.js'
export { blobPath } from './blobs.js'
export { addAttachment } from './attachments.commands.js'
export { gatherReactions } from './reactions.js'

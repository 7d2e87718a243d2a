// What other subjects may use of people.
export { projectOf, requireRight, requireRightInOneOf, viewerOf, whoIsPerson } from './access.js'
export {
  firstAdminSecret,
  invitePerson,
  type NewSession,
  signIn,
  signUp,
  whoBySession,
  makeProject,
  RESERVED_PREFIX,
} from './accounts.commands.js'
export type { OutgoingMail } from './mailer.js'
export { mailerOf } from './mailer.slot.js'
export { isPerson, nameOfPerson } from './persons.js'
export { identify, SESSION_COOKIE } from './who.middleware.js'
export { isSignOf, signOf } from './signing.js'
export { rememberSecret } from './secrets.js'
export { allowsOrigin } from './tokens.commands.js'

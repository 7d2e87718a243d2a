// What other subjects may use of items.
export { thenItem } from './item-answer.routes.js'
export {
  checkFields,
  logItem,
  logWithin,
  planChange,
  tellNewOwners,
  requireRequirement,
  tieRequirement,
  writeChange,
} from './items.commands.js'
export { toHistory } from './items.views.js'
export { MOVED_BELOW } from './parts.commands.js'

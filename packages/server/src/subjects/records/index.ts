// What other subjects may use of records.
export { changesOf, valuesForRules, valuesOfRow } from './item-changes.js'
export { nextItemKey } from './item-numbers.js'
export {
  getItem,
  IS_BLOCKED,
  ITEM_COLUMNS,
  type ItemRow,
  listItemsByKeys,
  toItem,
  toSummary,
  fieldOf,
  fieldsOf,
} from './item-row.queries.js'
export { itemsOfRepository } from './items-of-repository.js'
export { keyPrefixes, knownKeys } from './key-registry.js'
export {
  type Assertion,
  type AssertionRow,
  assertLink,
  isSuspect,
  itemsTiedTo,
  listAssertions,
  replaceAssertionsOf,
  requirementsOfItems,
  retractAssertion,
} from './link-assertions.js'
export { assertionIdOf, linkIdOf, renewLinkIds } from './link-ids.js'
export { findLoop } from './link-loops.js'
export { titleOfNode } from './node-titles.js'
export { orRefuse } from './or-refuse.js'
export { readLinks } from './read-links.js'
export { requireItem } from './require-item.js'
export {
  hiddenPrefixes,
  hiddenRepositories,
  hiddenServices,
  lastPartOf,
  mayReadThing,
  projectsOfRepository,
  projectsOfService,
  projectsOfThing,
  repositoryNamed,
} from './things.js'
export { touchItem } from './touch-item.js'
export { canUndo, isUndone } from './undo-records.js'
export { currentKey, maySee, maySeeEntry, maySeeSubject, onlyVisible, resolveKey, visibleItemsTiedTo } from './visibility.js'
export { VISIBLE_ITEM } from './visible-item.js'

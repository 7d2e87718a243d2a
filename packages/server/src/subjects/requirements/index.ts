// What other subjects may use of requirements.
export { checksOf, listRequirements, requirementKeysOf, verifyingTests } from './requirements.views.js'

// What other subjects may use of requirements.
export { listRequirements, requirementKeysOf, verifyingTests } from './requirements.views.js'

// What other subjects may use of requirements.
export { checksOf, listRequirements, listTexts, verifyingTests } from './requirements.views.js'

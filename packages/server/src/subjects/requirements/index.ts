// What other subjects may use of requirements.
export { compareBaseline, listBaselines } from './baselines.commands.js'
export { listGaps } from './gaps.commands.js'
export { checksOf, listRequirements, listTexts, requirementKeysOf, verifyingTests } from './requirements.views.js'

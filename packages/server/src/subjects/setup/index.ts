// What other subjects may use of setup.
export { addComponent } from './components.commands.js'
export { checkOwnValues, checkType, requireStageRule } from './item-rules.commands.js'
export { readSetting, readSetup, requireProject } from './setup.commands.js'
export { firstProjectWhere } from './first-project.js'

// What other subjects may use of build machines.
export { beatOfBuild, endWantedBuild, startWatchingMachines, takeWantedBuild } from './machines.commands.js'
export { startBuildingPushes } from './pushes.commands.js'
export { requireConnected } from './build-machines.views.js'
export { appendWanted, stopWantedBuild } from './wanted.commands.js'

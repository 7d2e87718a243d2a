// What other subjects may use of build machines.
export { beatOfBuild, endWantedBuild, startWatchingMachines, takeWantedBuild } from './machines.commands.js'
export { startBuildingPushes } from './pushes.commands.js'

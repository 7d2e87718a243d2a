export { BuildDescriptions } from './BuildDescriptions'
export { BuildMachines } from './BuildMachines'
export { WantedBuilds } from './WantedBuilds'
export { WantedOfBuild } from './WantedOfBuild'

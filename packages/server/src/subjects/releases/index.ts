// What other subjects may use of releases.
export { askDeployment, letOutWhatMay, seeDeployment, startLettingOut, tellDeployment } from './deployments.commands.js'
export { itemsOfRelease, placesOf, requireRelease } from './releases.views.js'
export { seeEnvironment } from './environments.commands.js'
export { releaseBefore } from './release-order.js'
export { holdAgainst } from './contents.views.js'
export { makeRelease, readNextRelease, releaseNamesOf, requireFreeName, requireServiceCode } from './making.commands.js'

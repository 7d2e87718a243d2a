// What other subjects may use of occurrences.
export { intakeWorker } from './intake.client.js'
export { readMapArchive } from './map-archive.js'
export { makeOwnScrub, patternTrouble } from './own-scrub.js'

// What other subjects may use of occurrences.
export { intakeWorker } from './intake.client.js'
export { readMapArchive } from './map-archive.js'
export { otlpMessages } from './otlp/otlp-schema.js'
export type { Signal } from './otlp/read-otlp.js'
export { restoreException, type StoredException } from './otlp/trace-content.js'
export { makeOwnScrub, patternTrouble } from './own-scrub.js'

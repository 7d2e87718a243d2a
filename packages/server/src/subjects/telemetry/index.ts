// What other subjects may use of telemetry.
export { otlpMessages } from './otlp-schema.js'
export { type Attributes, OtlpFormatError, type OtlpRecord, readOtlp, type Signal } from './read-otlp.js'
export { trailAround } from './read-trail.js'
export { placeOf, type SenderPlace, text } from './sender-place.js'
export { cutHead, restoreException, type StoredException } from './trace-content.js'
export { TrafficValues } from './traffic-values.js'
export { TrailKeeper } from './trail-keeper.js'

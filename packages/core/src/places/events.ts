import type { PlaceGate } from './gates.js'

/** The journal's events of places and their bodies. */
export interface PlacesEvents {
  /** What has to hold before a release may come to an environment, from now on; all of it each time. */
  'place-gates-set': { environment: string; gates: PlaceGate[] }
  /** Somebody agrees that a deployment goes out, or (not `isOn`) takes that back. */
  'deployment-agreed': { deploymentId: string; isOn: boolean }
  /** Somebody made a check by hand for a deployment, or (not `isOn`) takes that back. */
  'deployment-checked': { deploymentId: string; words: string; isOn: boolean }
  /** A deployment goes out though gates do not hold, for a reason. */
  'place-gates-passed-over': { deploymentId: string; why: string; unmet: string[] }
}

import type { PackageRef } from './package-ref.js'

/** The journal's events of what releases are made of, and their bodies. */
export interface DependenciesEvents {
  /** A bill of materials that was sent for a release; it stands in the place of an earlier one. */
  'bill-received': { service: string; release: string; packages: PackageRef[] }
  'bill-taken-back': { service: string; release: string }
}

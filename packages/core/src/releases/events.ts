import type { NoteReader } from './write-notes.js'

/** The journal's events of releases and their bodies. */
export interface ReleasesEvents {
  'service-added': { name: string; project: string; repository: string; tagPrefix: string; pathPrefix?: string }
  'service-changed': { name: string; repository: string; tagPrefix: string; pathPrefix: string; ownCode: string[]; foreignCode: string[] }
  'environment-added': { name: string; kind: 'production' | 'staging' | 'test'; needsApproval: boolean; position: number }
  'environment-changed': { name: string; kind: 'production' | 'staging' | 'test'; needsApproval: boolean; position: number }
  'environment-removed': { name: string }
  'release-found': { service: string; name: string; tag: string; sha: string; isRewritten: boolean }
  /** A release that is not to be brought anywhere any more, or stands again; `why` is empty then. */
  'release-withdrawn': { service: string; release: string; isWithdrawn: boolean; why: string }
  'deployment-asked': { deploymentId: string; service: string; release: string; environment: string }
  'deployment-approved': { deploymentId: string }
  'deployment-failed': { deploymentId: string; why: string }
  /** `by` is whom the deployer names: a fact that it tells, not who acted. */
  'deployment-seen': { deploymentId: string; service: string; release: string; environment: string; by?: string }
  /** It was said to run by mistake: it never did. */
  'deployment-taken-back': { deploymentId: string; service: string; release: string; environment: string }
  /** The notes as they read at that moment, for everybody who has the address or for those who read the project. */
  'notes-published': { service: string; release: string; reader: NoteReader; text: string; isPublic: boolean }
  'notes-withdrawn': { service: string; release: string; reader: NoteReader }
  /** Words of a person in the notes of a release; `key` is empty for those at the beginning, and `text` where they are taken out again. */
  'release-note-written': { service: string; release: string; reader: NoteReader; key: string; text: string }
}

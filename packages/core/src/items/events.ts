import type { Stage } from '#ladder/ladder'
import type { FieldChanges } from '#records/events'
import type { ItemType } from '#setup/item-type'

/** The journal's events of items and their bodies. */
export interface ItemsEvents {
  'item-logged': {
    key: string
    project: string
    number: number
    type: ItemType
    title: string
    description: string
    severity: number | null
    component: string | null
    milestone: string | null
    labels: string[]
    foundIn: string | null
    cause: 'person' | 'rule' | 'import' | 'test' | 'finding' | 'incident'
    reporterId: string | null
    fault: string | null
    /** Whom it came from when that is no account: an address, or the public form. */
    from?: string
  }
  'item-moved': { key: string; newKey: string; project: string; number: number }
  'item-changed': { key: string; changes: FieldChanges }
  'item-reopened': { key: string; why: string }
  /** When an imported item was changed last where it comes from. */
  'item-dated': { key: string; updatedAtMs: number }
  /** Where an imported item stood elsewhere, in the words that it had there. */
  'item-baselined': { key: string; stage: Stage; words: string }
  'item-started': { key: string; repository: string; branch: string }
  'item-verified': { key: string; words: string }
  'stage-claimed': { key: string; stage: Stage; words: string }
  /** Somebody who may stands for what was claimed: it counts from now on, though no evidence shows it. */
  'claim-accepted': { key: string; stage: Stage; words: string }
  'claim-taken-back': { key: string; stage: Stage }
  /** Somebody who may says that a repository needs nothing of the fix, and why; null takes it back. */
  'repository-unaffected': { key: string; repository: string; words: string | null }
  /** What somebody says of a defect in a release, where that runs; null takes it back. */
  'item-affected-said': { key: string; service: string; release: string; environment: string; verdict: 'affected' | 'not' | null }
  'follower-changed': { key: string; personId: string; isOn: boolean }
}

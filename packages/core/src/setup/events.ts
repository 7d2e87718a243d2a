import type { ItemTypeDefinition } from './item-type.js'
import type { LabelColour } from './label-colour.js'
import type { Milestone } from './milestone.js'
import type { OwnField } from './own-field.js'

/** The journal's events of setup and their bodies. */
export interface SetupEvents {
  'project-created': { prefix: string; name: string; silenceMs: number; requirementPrefixes: string[] }
  /** It is called otherwise; its prefix, and with it every key, stays. */
  'project-renamed': { project: string; name: string }
  'prefix-taken': { project: string; prefix: string; kind: 'requirement' }
  'component-removed': { project: string; name: string }
  'component-added': { project: string; name: string; keeperId: string | null; repository: string | null; pathPrefix: string | null }
  'type-defined': ItemTypeDefinition & { project: string }
  'own-field-defined': OwnField & { project: string }
  'type-removed': { project: string; type: string }
  'own-field-removed': { project: string; fieldId: string }
  'own-fields-ordered': { project: string; fieldIds: string[] }
  'milestone-set': Milestone & { project: string; formerName?: string }
  'milestone-removed': { project: string; name: string }
  'label-coloured': { project: string; label: string; colour: LabelColour }
  'stage-rule-set': { project: string; stage: string; needs: string[] }
  'setting-changed': { project: string; name: string; value: string }
}

import type { QualityRule } from './quality-rule.js'

/** The journal's events of the rules about what builds bring. */
export interface QualityEvents {
  /** All rules of a project in their order; they hold for what comes. */
  'quality-rules-set': { project: string; rules: QualityRule[] }
  /** A rule logged a test, a finding or a fall of coverage, alone or gathered with others. `place` is a build or a commit as a thing. */
  'quality-rule-fired': {
    firingId: string
    project: string
    ruleId: string
    about: QualityRule['about']
    /** Of what it was, so that no rule takes the same a second time. */
    identity: string
    what: string
    place: string
    key: string
    outcome: 'logged' | 'gathered'
  }
}

import type { FaultStand } from './fault-stand.js'
import type { RuleDeed } from './intake-rule.js'
import type { Outcome } from './run-rules.js'

/** What a change of a fault's stand is called. */
export type FaultActName = 'assign' | 'silence' | 'hear' | 'judge' | 'unjudge' | 'undo'
/** The journal's events of faults and their bodies. */
export interface FaultsEvents {
  'scrub-rule-added': { ruleId: string; kind: 'text' | 'attribute'; pattern: string; name: string }
  'scrub-rule-removed': { ruleId: string }
  'rule-added': {
    ruleId: string
    project: string
    name: string
    environmentKind: string
    severityAtLeast: string
    countAtLeast: number
    windowMs: number
    /** What came later; entries from before have none of it. */
    peopleAtLeast?: number
    where?: string
    deed?: RuleDeed
    perHour?: number | null
    perDay?: number | null
    goesOn?: boolean
    isDraft?: boolean
  }
  /** In which order the rules of a project are asked. */
  'rules-ordered': { project: string; ruleIds: string[] }
  /** How many items all rules of a project may log. */
  'intake-budget-set': { project: string; perHour: number | null; perDay: number | null }
  'rule-changed': FaultsEvents['rule-added']
  'rule-removed': { ruleId: string; project: string; name: string }
  /** The other fault goes on under this one's number. */
  'fault-merged': { number: number; into: number }
  /** The other fault is one of its own again, with those that had gone into it first, and with the items that it had. */
  'fault-unmerged': { number: number; from: number; inner: number[]; items: string[] }
  /** Part of a fault, or one occurrence of it, belongs to another group from now on. */
  'fault-split': { number: number; fingerprint: string; to?: number | null; past?: boolean }
  /** More became known of the code: where a fault fails reads differently. */
  'fault-reread': { number: number; type: string; message: string; maskedMessage: string; place: string | null; reason: unknown }
  'fault-found': {
    number: number
    fingerprint: string
    service: string
    type: string
    message: string
    maskedMessage: string
    place: string | null
    reason: unknown
    traceDigest: string
  }
  'fault-in-release': { fault: string; release: string; environment: string }
  /** `key` is empty where no item stands for the fault; entries from before have no outcome: they logged. */
  'rule-fired': { ruleId: string; fault: number; key: string; count: number; outcome?: Outcome; people?: number }
  /** What a person, or a rule that silences, decided about a fault. */
  'fault-acted': { number: number; before: FaultStand; after: FaultStand; act: FaultActName }
  /** An item does not stand for a fault any more; its links to it are retracted beside this. */
  'fault-item-untied': { number: number; key: string }
}

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
  }
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
  'rule-fired': { ruleId: string; fault: number; key: string; count: number }
}

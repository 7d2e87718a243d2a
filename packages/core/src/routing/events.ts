import type { RoutingRule } from './routing.js'

/** The journal's events of routing and their bodies. */
export interface RoutingEvents {
  'routing-rule-set': RoutingRule & { project: string; position: number }
  'routing-rule-removed': { project: string; ruleId: string }
  'duty-set': { project: string; weekOn: string; personId: string | null }
}

import { kindOfFinding, MINUTES_TO_MEND, type FindingDetail, type FindingKind, type FindingLevel } from '@dystracer/core/findings/finding'
import type { Brought, FoundHere } from '@dystracer/core/findings/wire'

/** What says how heavy a finding is, as it is stored. */
export interface WeightRow {
  level: FindingLevel
  kind: FindingKind | null
  minutes: number | null
}
/** A finding at a commit, as it is stored. */
export interface FoundRow extends WeightRow {
  tool: string
  identity: string
  ruleId: string
  message: string
  file: string | null
  line: number | null
  detail: string | null
  asideUntil: string | null
  asideWhy: string | null
  asideBy: string | null
  asideAtMs: number | null
}

const NO_DETAIL: FindingDetail = { steps: [], fixes: [], helpUrl: null }

/** Kind and minutes of a finding; those that came before either was read get them by their level. */
export function weightOf({ level, kind, minutes }: WeightRow): { kind: FindingKind; minutes: number } {
  const known = kind ?? kindOfFinding(level)
  return { kind: known, minutes: minutes ?? MINUTES_TO_MEND[known] }
}

/** A row as it goes out. */
export function toFound({ asideUntil, asideWhy, asideBy, asideAtMs, detail, ...row }: FoundRow): FoundHere {
  return {
    ...row,
    ...weightOf(row),
    ...(detail === null ? NO_DETAIL : (JSON.parse(detail) as FindingDetail)),
    aside: asideUntil === null ? null : { until: asideUntil, why: asideWhy ?? '', by: asideBy ?? '', atMs: asideAtMs ?? 0 },
  }
}

/** How many of each kind are new, and the minutes of what is new less those of what is gone. */
export function sumOf(fresh: readonly WeightRow[], gone: readonly WeightRow[]): Brought {
  const brought: Brought = { bug: 0, weakness: 0, smell: 0, debtMinutes: 0 }
  for (const row of fresh) {
    const { kind, minutes } = weightOf(row)
    brought[kind]++
    brought.debtMinutes += minutes
  }
  for (const row of gone) brought.debtMinutes -= weightOf(row).minutes
  return brought
}

import type { FieldKind, Filter, FilterVocabulary } from '#filter/filter'
import { meetsPlain, type PlainFacts } from '#filter/meets-plain'
import { parseFilterBy } from '#filter/parse-filter'

/** What a rule looks at. */
export const QUALITY_SUBJECTS = ['test', 'finding', 'coverage'] as const
/** One of those. */
export type QualitySubject = (typeof QUALITY_SUBJECTS)[number]

/** What a condition on a failing test can name; `builds`: in how many it failed in a row, by now. */
export const TEST_FIELDS = {
  repository: 'word',
  branch: 'text',
  suite: 'text',
  test: 'text',
  message: 'text',
  builds: 'number',
} as const satisfies Record<string, FieldKind>
/** What a condition on a finding that is new can name. */
export const FINDING_FIELDS = {
  repository: 'word',
  tool: 'word',
  rule: 'text',
  level: 'word',
  path: 'text',
  message: 'text',
} as const satisfies Record<string, FieldKind>
/** What a condition on the coverage of a build can name: how many of a hundred lines ran, and how many fewer than in the build before. */
export const COVERAGE_FIELDS = {
  repository: 'word',
  branch: 'text',
  covered: 'number',
  fell: 'number',
} as const satisfies Record<string, FieldKind>
type FieldsOf = { test: keyof typeof TEST_FIELDS; finding: keyof typeof FINDING_FIELDS; coverage: keyof typeof COVERAGE_FIELDS }
/** `main`: of the main line of its repository. */
export type QualityFlag = 'main'
/** A field of what a rule looks at. */
export type QualityField<Subject extends QualitySubject = QualitySubject> = FieldsOf[Subject]
/** The words of each: the grammar of items' filters. */
export const QUALITY_VOCABULARIES: { [Subject in QualitySubject]: FilterVocabulary<FieldsOf[Subject], QualityFlag> } = {
  test: { fields: TEST_FIELDS, flags: ['main'], bare: new Map() },
  finding: { fields: FINDING_FIELDS, flags: [], bare: new Map() },
  coverage: { fields: COVERAGE_FIELDS, flags: ['main'], bare: new Map() },
}

/** What a rule does: log an item, or nothing, so that no rule below it is asked. */
export const QUALITY_ACTS = ['log', 'nothing'] as const

/** What is done about a failing test, a new finding or coverage that fell. */
export interface QualityRule {
  ruleId: string
  name: string
  about: QualitySubject
  /** In the grammar of filters; empty for whatever comes. */
  where: string
  act: (typeof QUALITY_ACTS)[number]
  /** Of the item that is logged; null leaves it to people, or to routing. */
  type: string
  severity: 1 | 2 | 3 | 4 | 5 | null
  ownerId: string | null
  labels: string[]
  milestone: string | null
  /** Null leaves it to the component that the repository belongs to. */
  component: string | null
  /** Whether what it logs is taken without Triage. */
  isAccepted: boolean
  /** Who is told of what it logs. */
  tellIds: string[]
  /** At most so many items a day, the rest goes into one; null for no limit. */
  perDay: number | null
  /** A draft is tried and shown; it does nothing. */
  isDraft: boolean
}

/** A rule that says nothing else: it logs a defect that waits in Triage. */
export const PLAIN_QUALITY_RULE = {
  act: 'log',
  type: 'defect',
  severity: null,
  ownerId: null,
  labels: [],
  milestone: null,
  component: null,
  isAccepted: false,
  tellIds: [],
  perDay: null,
  isDraft: false,
} satisfies Omit<QualityRule, 'ruleId' | 'name' | 'about' | 'where'>

/** What holds for a project until it says otherwise. */
export const DEFAULT_QUALITY_RULES: readonly QualityRule[] = [
  {
    ...PLAIN_QUALITY_RULE,
    ruleId: 'failing-tests',
    name: 'Tests that fail twice on the main line',
    about: 'test',
    where: 'main builds>=2',
  },
  {
    ...PLAIN_QUALITY_RULE,
    ruleId: 'new-findings',
    name: 'New errors and warnings',
    about: 'finding',
    where: 'level=error or level=warning',
  },
]

/** Something that rules are asked about: what it is, and what conditions can name of it. */
export type QualityFacts = { [Subject in QualitySubject]: { about: Subject } & PlainFacts<FieldsOf[Subject], QualityFlag> }[QualitySubject]

/** A rule whose condition has been read. */
export interface ReadQualityRule extends QualityRule {
  filter: Filter<string, QualityFlag>
}

/** Reads the condition of a rule; one that is not understood any more holds for nothing. */
export function readQualityRule(rule: QualityRule): ReadQualityRule {
  const parsed = parseFilterBy(QUALITY_VOCABULARIES[rule.about] as FilterVocabulary<string, QualityFlag>, rule.where)
  return { ...rule, filter: 'filter' in parsed ? parsed.filter : { kind: 'or', parts: [] } }
}

/** The first rule that takes something; drafts take nothing. O(rules × conditions). */
export function ruleFor(rules: readonly ReadQualityRule[], facts: QualityFacts): ReadQualityRule | null {
  return (
    rules.find(
      (rule) =>
        rule.about === facts.about &&
        !rule.isDraft &&
        meetsPlain(
          rule.filter,
          facts as PlainFacts<string, QualityFlag>,
          QUALITY_VOCABULARIES[rule.about] as FilterVocabulary<string, QualityFlag>,
        ),
    ) ?? null
  )
}

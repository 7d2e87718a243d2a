import { printedPage, printedTable, RECORD_STYLE } from '#text/printed-page'
import { element, type XmlElement } from '#text/xml-tree'
import type { Baseline, Comparison } from '#requirements/baselines-wire'
import type { Gap } from '#requirements/gaps-wire'

/** How far a requirement is proved; the first that applies, worst first. */
export const PROOF_STATES = ['broken', 'failing', 'look-again', 'proved', 'unproved'] as const
/** One of them. */
export type ProofState = (typeof PROOF_STATES)[number]

/** One requirement with the evidence for it, as an audit asks for it. */
export interface AuditedRequirement {
  key: string
  title: string
  text: string
  parent: string | null
  isHeading: boolean
  revision: number
  state: ProofState
  items: { key: string; title: string; stage: string; kind: string; isSuspect: boolean }[]
  tests: { name: string; outcome: string; build: string }[]
  checks: { number: number; title: string; environment: string; outcome: string; by: string; atMs: number; isStale: boolean }[]
}

/** What an audit of requirements asks: how far they are proved and by what, what is open, and what changed. Lists are in a fixed order. */
export interface AuditReport {
  format: 'dystracer-audit-report'
  version: 1
  project: { prefix: string; name: string }
  atMs: number
  requirements: AuditedRequirement[]
  gaps: Gap[]
  baselines: (Pick<Baseline, 'name' | 'atMs' | 'hash' | 'isIntact' | 'withdrawn'> & { agreedBy: string[] })[]
  /** What differs from a baseline until now; null where none was named. */
  changes: Comparison | null
}

/** How many requirements of a chapter stand how. */
export interface ChapterCoverage {
  /** Null: what stands below no heading. */
  key: string | null
  title: string
  requirements: number
  states: Record<ProofState, number>
  withoutItem: number
}

/** How far a requirement is proved, by what is known of it. */
export function proofStateOf(known: { brokenBy: readonly string[]; failingTests: number; suspects: number; tests: number }): ProofState {
  if (known.brokenBy.length > 0) return 'broken'
  if (known.failingTests > 0) return 'failing'
  if (known.suspects > 0) return 'look-again'
  return known.tests > 0 ? 'proved' : 'unproved'
}

/**
 * Coverage by chapter: the outermost heading that a requirement stands below, in document order; what
 * stands below none comes last. Headings are counted nowhere. O(requirements · depth).
 */
export function coverageByChapter(requirements: readonly AuditedRequirement[]): ChapterCoverage[] {
  const chapterOf = chaptersOf(requirements)
  const chapters = new Map<string | null, ChapterCoverage>()
  for (const row of requirements)
    if (row.isHeading && chapterOf.get(row.key) === row.key) chapters.set(row.key, emptyChapter(row.key, row.title))
  const none = emptyChapter(null, 'Below no heading')
  for (const row of requirements) {
    if (row.isHeading) continue
    const chapter = chapters.get(chapterOf.get(row.key) ?? null) ?? none
    chapter.requirements++
    chapter.states[row.state]++
    if (row.items.length === 0) chapter.withoutItem++
  }
  return [...chapters.values(), none].filter(({ requirements: count }) => count > 0)
}

function emptyChapter(key: string | null, title: string): ChapterCoverage {
  return { key, title, requirements: 0, states: { broken: 0, failing: 0, 'look-again': 0, proved: 0, unproved: 0 }, withoutItem: 0 }
}

/** The report as JSON: the same report is the same text. */
export function auditAsJson(report: AuditReport): string {
  return `${JSON.stringify({ ...report, coverage: coverageByChapter(report.requirements) }, null, 2)}\n`
}

/** The columns of that matrix, in order. */
export const AUDIT_COLUMNS = ['requirement', 'revision', 'title', 'state', 'item', 'stage', 'tie', 'proof', 'outcome', 'by', 'when']

/**
 * The matrix of the report, a row for each pair of a requirement with an item or a proof; a requirement with neither has one row, so that
 * nothing is left out.
 */
export function auditRows(report: AuditReport): Record<string, string>[] {
  return report.requirements
    .filter(({ isHeading }) => !isHeading)
    .flatMap((row) => {
      const base = { requirement: row.key, revision: String(row.revision), title: row.title, state: row.state }
      const line = (more: Partial<Record<'item' | 'stage' | 'tie' | 'proof' | 'outcome' | 'by' | 'when', string>>) => ({
        ...base,
        item: '',
        stage: '',
        tie: '',
        proof: '',
        outcome: '',
        by: '',
        when: '',
        ...more,
      })
      const lines = [
        ...row.items.map((item) =>
          line({ item: item.key, stage: item.stage, tie: item.isSuspect ? `${item.kind}, look again` : item.kind }),
        ),
        ...row.tests.map((test) => line({ proof: test.name, outcome: test.outcome, by: `build ${test.build}` })),
        ...row.checks.map((check) =>
          line({
            proof: `case ${check.number} ${check.title} in ${check.environment}`,
            outcome: check.isStale ? `${check.outcome}, for an older text` : check.outcome,
            by: check.by,
            when: new Date(check.atMs).toISOString(),
          }),
        ),
      ]
      return lines.length > 0 ? lines : [line({})]
    })
}

const STATE_WORDS: Record<ProofState, string> = {
  broken: 'broken by an open defect',
  failing: 'a proof fails',
  'look-again': 'made for an older text',
  proved: 'proved',
  unproved: 'no proof',
}
const GAP_WORDS: Record<Gap['code'], string> = {
  broken: 'broken by an open defect',
  'failing-test': 'a test of it fails',
  'look-again': 'tied for an older text',
  'without-item': 'nothing implements it',
  'without-test': 'nothing proves it',
  'item-without-requirement': 'no requirement asks for it',
  'fix-not-released': 'merged, and not released',
}

/**
 * The report as a page that prints. Every number leads to what it counts, further down in the page; every
 * key leads to where it lives, below `address`.
 */
export function auditAsHtml(report: AuditReport, { address }: { address: string }): string {
  const { project, requirements, gaps, changes } = report
  const at = (atMs: number) => new Date(atMs).toISOString().slice(0, 16).replace('T', ' ')
  const rows = requirements.filter(({ isHeading }) => !isHeading)
  const link = (href: string, words: string, mark?: string) => element('a', { href, ...(mark && { class: mark }) }, [words])
  const keyLink = (kind: 'requirement' | 'item', key: string) =>
    link(`${address}/${kind === 'item' ? 'items/item' : 'requirements/requirement'}~${key}`, key)
  const counted = (chapter: ChapterCoverage, state: ProofState) =>
    chapter.states[state] === 0
      ? '0'
      : link(`#${anchorOf(chapter.key, state)}`, String(chapter.states[state]), state === 'broken' || state === 'failing' ? 'bad' : 'look')
  const coverage = coverageByChapter(requirements)
  const chapterOf = chaptersOf(requirements)
  const total = { ...emptyChapter(null, 'All'), requirements: rows.length }
  for (const row of rows) total.states[row.state]++
  const share = ({ states, requirements: count }: ChapterCoverage) => `${count === 0 ? 0 : Math.floor((states.proved / count) * 100)} %`
  const open = gaps.filter(({ agreed }) => agreed === null)
  const agreed = gaps.filter((gap) => gap.agreed !== null)
  const gapRow = (gap: Gap) => [keyLink(gap.kind, gap.id), gap.title, GAP_WORDS[gap.code], gap.by.join(', ')]
  const suspects = rows.flatMap((row) => row.items.filter((item) => item.isSuspect).map((item) => ({ row, item })))
  const body: XmlElement[] = [
    element('p', {}, [
      `${project.prefix}, as of ${at(report.atMs)} UTC: ${rows.length} requirements, ${total.states.proved} proved, `,
      link('#open-gaps', `${open.length} open gaps`),
      ', ',
      link('#suspects', `${suspects.length} ties made for an older text`),
      '.',
    ]),
    ...printedTable(
      'Coverage by chapter',
      [
        'chapter',
        'requirements',
        'proved',
        'share',
        ...(['broken', 'failing', 'look-again', 'unproved'] as const).map((state) => STATE_WORDS[state]),
      ],
      coverage.map((chapter) => [
        chapter.key === null ? chapter.title : `${chapter.key} ${chapter.title}`,
        String(chapter.requirements),
        String(chapter.states.proved),
        share(chapter),
        ...(['broken', 'failing', 'look-again', 'unproved'] as const).map((state) => counted(chapter, state)),
      ]),
    ),
    ...coverage.flatMap((chapter) =>
      (['broken', 'failing', 'look-again', 'unproved'] as const)
        .filter((state) => chapter.states[state] > 0)
        .flatMap((state) =>
          printedTable(
            `${chapter.title}: ${STATE_WORDS[state]}`,
            ['requirement', 'text', 'items'],
            rows
              .filter((row) => row.state === state && (chapterOf.get(row.key) ?? null) === chapter.key)
              .map((row) => [keyLink('requirement', row.key), `${row.title}. ${row.text}`, row.items.map(({ key }) => key).join(', ')]),
            { id: anchorOf(chapter.key, state) },
          ),
        ),
    ),
    ...printedTable('Open gaps', ['what', 'title', 'gap', 'by'], open.map(gapRow), { id: 'open-gaps' }),
    ...printedTable(
      'Agreed gaps',
      ['what', 'title', 'gap', 'by', 'why it may stay', 'until'],
      agreed.map((gap) => [...gapRow(gap), gap.agreed?.reason ?? '', gap.agreed?.until ?? 'for good']),
    ),
    ...printedTable(
      'Ties made for an older text',
      ['requirement', 'item', 'stage'],
      suspects.map(({ row, item }) => [keyLink('requirement', row.key), keyLink('item', item.key), item.stage]),
      { id: 'suspects' },
    ),
    ...printedTable(
      'Verification record',
      ['requirement', 'proof', 'outcome', 'by', 'when'],
      rows.flatMap((row) => [
        ...row.tests.map((test) => [keyLink('requirement', row.key), test.name, test.outcome, `build ${test.build}`, '']),
        ...row.checks.map((check) => [
          keyLink('requirement', row.key),
          `case ${check.number} ${check.title} in ${check.environment}`,
          check.isStale ? `${check.outcome}, for an older text` : check.outcome,
          check.by,
          at(check.atMs),
        ]),
      ]),
      { none: 'Nothing has proved anything yet.' },
    ),
    ...printedTable(
      'Requirement by item',
      ['requirement', 'revision', 'item', 'tie', 'stage'],
      rows.flatMap((row) =>
        row.items.length === 0
          ? [[keyLink('requirement', row.key), String(row.revision), '', '', '']]
          : row.items.map((item) => [
              keyLink('requirement', row.key),
              String(row.revision),
              keyLink('item', item.key),
              item.kind,
              item.stage,
            ]),
      ),
    ),
    ...printedTable(
      'Baselines',
      ['name', 'kept', 'agreed by', 'hash', 'as it was kept'],
      report.baselines.map((one) => [
        one.withdrawn === null ? one.name : `${one.name} (does not count: ${one.withdrawn})`,
        at(one.atMs),
        one.agreedBy.join(', '),
        element('code', {}, [one.hash.slice(0, 16)]),
        one.isIntact ? 'yes' : 'no',
      ]),
    ),
    ...(changes ? changesSince(changes) : []),
  ]
  return printedPage({ title: `Requirements of ${project.name}`, style: RECORD_STYLE, body })
}

function changesSince(changes: Comparison): XmlElement[] {
  return printedTable(
    `Changes since ${changes.from}`,
    ['what', 'requirement', 'before', 'after', 'why'],
    [
      ...changes.added.map((row) => ['added', `${row.key} ${row.title}`, '', row.text, '']),
      ...changes.changed.map((row) => [
        `revision ${row.fromRevision} to ${row.toRevision}`,
        `${row.key} ${row.title}`,
        row.before,
        row.after,
        row.because,
      ]),
      ...changes.moved.map((row) => [
        'moved',
        `${row.key} ${row.title}`,
        `below ${row.from ?? 'nothing'}`,
        `below ${row.to ?? 'nothing'}`,
        '',
      ]),
      ...changes.retired.map((row) => ['retired', `${row.key} ${row.title}`, '', '', '']),
      ...changes.restored.map((row) => ['holds again', `${row.key} ${row.title}`, '', '', '']),
      ...changes.removed.map((row) => ['gone', `${row.key} ${row.title}`, row.text, '', '']),
      ...changes.linksAdded.map((row) => ['tied', row.requirement, '', `${row.item} ${row.kind}`, '']),
      ...changes.linksRemoved.map((row) => ['untied', row.requirement, `${row.item} ${row.kind}`, '', '']),
    ],
    { none: 'Nothing has changed.' },
  )
}

/** The outermost heading of each requirement, itself for such a heading; null below none. A loop of parents ends where it began. */
function chaptersOf(requirements: readonly AuditedRequirement[]): Map<string, string | null> {
  const byKey = new Map(requirements.map((row) => [row.key, row]))
  return new Map(
    requirements.map((row) => {
      let outermost: string | null = null
      const seen = new Set<string>()
      for (let at: AuditedRequirement | undefined = row; at && !seen.has(at.key); at = byKey.get(at.parent ?? '')) {
        seen.add(at.key)
        if (at.isHeading) outermost = at.key
      }
      return [row.key, outermost]
    }),
  )
}

function anchorOf(chapter: string | null, state: ProofState): string {
  return `${chapter ?? 'none'}-${state}`
}

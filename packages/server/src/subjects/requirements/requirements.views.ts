import { groupBy } from '@dystracer/core/basics/group-by'
import { Problem } from '@dystracer/core/basics/problem'
import type { Requirement, RequirementDetail } from '@dystracer/core/requirements/wire'
import type { Attributes } from '@dystracer/core/requirements/attributes'
import { inDocumentOrder } from '@dystracer/core/requirements/document-order'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { getItem, hiddenPrefixes, isSuspect, listAssertions, maySee, onlyVisible, toSummary } from '#subjects/records/index'
import { LIST_RELATION_OF_REQUIREMENT } from './exchange.queries.js'
import {
  GET_IS_OPEN_OF_ITEM_BY_KEY,
  GET_REQUIREMENT_BY_KEY,
  LIST_CHECK,
  LIST_REQUIREMENT,
  LIST_REQUIREMENT_BY_KEY,
  LIST_REQUIREMENT_OF_PROJECT,
  LIST_REQUIREMENT_REVISION_BY_KEY,
  LIST_VERIFYING_TEST,
} from './requirements.queries.js'

/** A requirement as its table holds it. */
export interface RequirementRow {
  key: string
  title: string
  text: string
  parent: string | null
  is_heading: number
  revision: number
  position: number
  retired_at_ms: number | null
  retired_words: string | null
  /** JSON, by name. */
  attributes: string
}

/** What a requirement says by itself, without what is known of it. */
export function toText(row: RequirementRow) {
  const { key, title, text, parent, revision } = row
  return { key, title, text, parent, isHeading: row.is_heading === 1, isRetired: row.retired_at_ms !== null, revision }
}

function visibleRows(ctx: ServiceContext, who: Who): RequirementRow[] {
  return inDocumentOrder(sql(ctx.db, LIST_REQUIREMENT).all<RequirementRow>({ hidden: hiddenPrefixes(ctx.db, who) }))
}

/** The requirements of a project that somebody may read, in document order, each by what it says itself. */
export function listTexts(ctx: ServiceContext, who: Who, project: string): ReturnType<typeof toText>[] {
  const own = requirementKeysOf(ctx, project)
  return visibleRows(ctx, who)
    .filter(({ key }) => own.has(key))
    .map(toText)
}

/** All requirements that somebody may read, in document order, with how each stands. */
export function listRequirements(ctx: ServiceContext, who: Who): Requirement[] {
  const tests = verifyingTests(ctx)
  const checks = checksOf(ctx)
  const proofs = (key: string) => ({ tests: tests.get(key) ?? [], checks: checks.get(key) ?? [] })
  return visibleRows(ctx, who).map((row) => toRequirement(ctx, who, row, proofs(row.key)))
}

/** The keys of the requirements of a project. */
export function requirementKeysOf(ctx: Pick<ServiceContext, 'db'>, project: string): Set<string> {
  return new Set(
    sql(ctx.db, LIST_REQUIREMENT_OF_PROJECT)
      .all<{ key: string }>({ project })
      .map((row) => row.key),
  )
}

interface VerifyingRow {
  key: string
  repository: string
  build: number
  name: string
  outcome: string
}

/** Latest result of every test that verifies a requirement, by its key: of one, or of all in one pass over the newest builds. */
export function verifyingTests(ctx: ServiceContext, key: string | null = null): Map<string, VerifyingRow[]> {
  return groupBy(sql(ctx.db, LIST_VERIFYING_TEST).all<VerifyingRow>({ key }), (row) => row.key)
}

interface CheckRow extends Omit<RequirementDetail['checks'][number], 'isStale'> {
  key: string
  isStale: number
}

/** What people found when they did test cases, by the requirements that those verify. */
export function checksOf(ctx: ServiceContext, key: string | null = null): Map<string, CheckRow[]> {
  return groupBy(sql(ctx.db, LIST_CHECK).all<CheckRow>({ key }), (row) => row.key)
}

/** How many tests by hand say something that still counts, and how many of those failed somewhere. */
function handTests(checks: readonly CheckRow[]): { tests: number; failing: number } {
  const counting = checks.filter(({ isStale, outcome }) => isStale === 0 && (outcome === 'passed' || outcome === 'failed'))
  const failing = new Set(counting.filter(({ outcome }) => outcome === 'failed').map(({ number }) => number))
  return { tests: new Set(counting.map(({ number }) => number)).size, failing: failing.size }
}

function toRequirement(
  ctx: ServiceContext,
  who: Who,
  row: RequirementRow,
  { tests, checks }: { tests: readonly VerifyingRow[]; checks: readonly CheckRow[] },
): Requirement {
  const byHand = handTests(checks)
  const links = listAssertions(ctx.db, { kind: 'requirement', id: row.key }).filter((link) => link.from_kind === 'item')
  const items = (kind: string) => [...new Set(links.filter((link) => link.kind === kind).map((link) => link.from_id))]
  const isOpen = (key: string) => sql(ctx.db, GET_IS_OPEN_OF_ITEM_BY_KEY).get<{ is_open: number }>({ key })?.is_open === 1
  return {
    ...toText(row),
    implementedBy: items('implements').length,
    brokenBy: items('breaks').filter((key) => isOpen(key) && maySee(ctx.db, who, key)),
    tests: tests.length + byHand.tests,
    failingTests: tests.filter((test) => test.outcome === 'failed').length + byHand.failing,
    suspects: new Set(
      links.filter((link) => link.target_revision !== null && link.target_revision < row.revision).map((link) => link.link_id),
    ).size,
  }
}

export function requireRow(ctx: ServiceContext, key: string): RequirementRow {
  const row = sql(ctx.db, GET_REQUIREMENT_BY_KEY).get<RequirementRow>({ key })
  if (!row) throw new Problem('not-found', { detail: `There is no requirement ${key}.` })
  return row
}

function relationsOf(ctx: ServiceContext, key: string): RequirementDetail['relations'] {
  return sql(ctx.db, LIST_RELATION_OF_REQUIREMENT)
    .all<{ relationId: string; name: string; words: string; isOut: number; key: string; title: string }>({ key })
    .map(({ relationId, name, words, isOut, ...other }) => ({ relationId, name, words, isOut: isOut === 1, other }))
}

export function readRequirement(ctx: ServiceContext, who: Who, key: string): RequirementDetail {
  const row = requireRow(ctx, key)
  const tests = verifyingTests(ctx, key).get(key) ?? []
  const checks = checksOf(ctx, key).get(key) ?? []
  const seen = new Set<string>()
  const items = listAssertions(ctx.db, { kind: 'requirement', id: key }).flatMap((link) => {
    const item = link.from_kind === 'item' && !seen.has(link.from_id) ? getItem(ctx.db, link.from_id) : undefined
    seen.add(link.from_id)
    return item
      ? [
          {
            ...toSummary(item),
            linkKind: link.kind,
            linkId: link.link_id,
            isSuspect: isSuspect(ctx.db, link),
            madeForRevision: link.target_revision,
          },
        ]
      : []
  })
  return {
    ...toRequirement(ctx, who, row, { tests, checks }),
    checks: checks.map(({ key: _, isStale, ...check }) => ({ ...check, isStale: isStale === 1 })),
    retiredWords: row.retired_words,
    attributes: JSON.parse(row.attributes) as Attributes,
    relations: relationsOf(ctx, key),
    items: onlyVisible(ctx.db, who, items),
    children: sql(ctx.db, LIST_REQUIREMENT_BY_KEY)
      .all<{ key: string }>({ key })
      .map((child) => child.key),
    verifiedBy: tests.map((test) => ({
      test: test.name,
      outcome: test.outcome,
      build: { kind: 'build', id: `${test.repository}/${test.build}` },
    })),
    revisions: sql(ctx.db, LIST_REQUIREMENT_REVISION_BY_KEY)
      .all<Omit<RequirementDetail['revisions'][number], 'isMinor'> & { is_minor: number }>({ key })
      .map(({ is_minor, ...revision }) => ({ ...revision, isMinor: is_minor === 1 })),
  }
}

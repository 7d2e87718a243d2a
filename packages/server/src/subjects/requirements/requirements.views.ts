import { Problem } from '@dystracer/core/basics/problem'
import type { Requirement, RequirementDetail } from '@dystracer/core/requirements/wire'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { getItem, hiddenPrefixes, isSuspect, listAssertions, maySee, onlyVisible, toSummary } from '#subjects/records/index'

interface RequirementRow {
  key: string
  title: string
  text: string
  parent: string | null
  is_heading: number
  revision: number
  position: number
}
const COLUMNS = 'key, title, text, parent, is_heading, revision, position'

export function listRequirements(ctx: ServiceContext, who: Who): Requirement[] {
  return sql<object, RequirementRow>(
    ctx.db,
    `SELECT ${COLUMNS} FROM requirement
    WHERE substr(key, 1, instr(key, '-') - 1) NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY position, key LIMIT 5000`,
  )
    .all({ hidden: hiddenPrefixes(ctx.db, who) })
    .map((row) => toRequirement(ctx, who, row))
}

interface VerifyingRow {
  repository: string
  build: number
  name: string
  outcome: string
}

/** Latest result of every test that verifies a requirement. */
function verifyingTests(ctx: ServiceContext, key: string): VerifyingRow[] {
  return sql<object, VerifyingRow>(
    ctx.db,
    `SELECT t.repository, t.build, t.name, t.outcome FROM repository r CROSS JOIN test_result t CROSS JOIN json_each(t.verifies) v
    WHERE t.repository = r.name AND v.value = @key AND t.build = (SELECT max(b.number) FROM build b WHERE b.repository = r.name AND b.branch = r.main_branch AND b.finished_at_ms IS NOT NULL) ORDER BY t.repository, t.name`,
  ).all({ key })
}

function toRequirement(ctx: ServiceContext, who: Who, row: RequirementRow): Requirement {
  const links = listAssertions(ctx.db, { kind: 'requirement', id: row.key }).filter((link) => link.from_kind === 'item')
  const items = (kind: string) => [...new Set(links.filter((link) => link.kind === kind).map((link) => link.from_id))]
  const tests = verifyingTests(ctx, row.key)
  const isOpen = (key: string) => sql<object, { is_open: number }>(ctx.db, 'SELECT is_open FROM item WHERE key = @key').get({ key })?.is_open === 1
  return {
    key: row.key,
    title: row.title,
    text: row.text,
    parent: row.parent,
    isHeading: row.is_heading === 1,
    revision: row.revision,
    implementedBy: items('implements').length,
    brokenBy: items('breaks').filter((key) => isOpen(key) && maySee(ctx.db, who, key)),
    tests: tests.length,
    failingTests: tests.filter((test) => test.outcome === 'failed').length,
  }
}

function requireRow(ctx: ServiceContext, key: string): RequirementRow {
  const row = sql<object, RequirementRow>(ctx.db, `SELECT ${COLUMNS} FROM requirement WHERE key = @key`).get({ key })
  if (!row) throw new Problem('not-found', { detail: `There is no requirement ${key}.` })
  return row
}

export function readRequirement(ctx: ServiceContext, who: Who, key: string): RequirementDetail {
  const row = requireRow(ctx, key)
  const seen = new Set<string>()
  const items = listAssertions(ctx.db, { kind: 'requirement', id: key }).flatMap((link) => {
    const item = link.from_kind === 'item' && !seen.has(link.from_id) ? getItem(ctx.db, link.from_id) : undefined
    seen.add(link.from_id)
    return item ? [{ ...toSummary(item), linkKind: link.kind, isSuspect: isSuspect(ctx.db, link) }] : []
  })
  return {
    ...toRequirement(ctx, who, row),
    items: onlyVisible(ctx.db, who, items),
    children: sql<object, { key: string }>(ctx.db, 'SELECT key FROM requirement WHERE parent = @key ORDER BY position')
      .all({ key })
      .map((child) => child.key),
    verifiedBy: verifyingTests(ctx, key).map((test) => ({
      test: test.name,
      outcome: test.outcome,
      build: { kind: 'build', id: `${test.repository}/${test.build}` },
    })),
    revisions: sql<object, { revision: number; text: string; atMs: number; by: string | null }>(
      ctx.db,
      'SELECT revision, text, at_ms AS atMs, by FROM requirement_revision WHERE key = @key ORDER BY revision DESC',
    ).all({ key }),
  }
}

/** Writes a new revision of a requirement; links to older ones become suspect. */
export function writeRequirement(ctx: ServiceContext, who: Who, key: string, input: { title: string; text: string }): void {
  const row = requireRow(ctx, key)
  if (row.title === input.title && row.text === input.text) return
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'requirement-written',
      actor: who.actor,
      subjects: [`requirement:${key}`],
      body: {
        key,
        title: input.title,
        text: input.text,
        parent: row.parent,
        isHeading: row.is_heading === 1,
        revision: row.revision + 1,
        position: row.position,
      },
    })
  })
}

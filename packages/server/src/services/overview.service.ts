import type { Desk, Me, Places, SearchHit } from '@dystracer/core/contract/overview'
import type { Proposals, TriageEntry } from '@dystracer/core/contract/items'
import type { Person } from '@dystracer/core/contract/common'
import { splitRepositoryId } from '@dystracer/core/basics/node-ref'
import { sql } from '../db/statements.js'
import { ITEM_COLUMNS, toSummary, type ItemRow } from '../queries/items.queries.js'
import { VISIBLE_ITEM } from '../queries/visible-item.js'
import { firstAdminSecret } from './accounts.service.js'
import type { Who } from './access.js'
import { decodeCursor, pageOf } from './cursor.js'
import { readFaultFrames, readFaultSummary } from './fault-views.js'
import { requireItem } from './items.service.js'
import { findLookAlikes } from './look-alikes.service.js'
import { countUnread } from './notices.service.js'
import type { ServiceContext } from './service-context.js'
import { readSetup } from './setup.service.js'
import { currentKey, viewerOf } from './visibility.js'

const WAITING = `i.is_open = 1 AND i.is_archived = 0 AND (i.stage_rank = 0 AND i.accepted_at_ms IS NULL OR i.has_come_back = 1)`

export function readMe(ctx: ServiceContext, who: Who): Me {
  const project = sql<object, { prefix: string; name: string }>(ctx.db, 'SELECT prefix, name FROM project ORDER BY prefix LIMIT 1').get({}) ?? {
    prefix: '',
    name: '',
  }
  const people = sql<object, Person>(
    ctx.db,
    `SELECT p.person_id AS personId, p.name, p.initials, m.role FROM person p LEFT JOIN membership m ON m.person_id = p.person_id AND m.project = @prefix ORDER BY p.name LIMIT 1000`,
  ).all({ prefix: project.prefix })
  const setup = readSetup(ctx.db, project.prefix)
  const names = (text: string) =>
    sql<object, { name: string }>(ctx.db, text)
      .all({})
      .map((row) => row.name)
  return {
    person: people.find((person) => person.personId === who.personId) ?? null,
    csrfToken: who.csrfToken ?? '',
    project,
    people,
    components: names('SELECT name FROM component ORDER BY name'),
    milestones: setup.milestones.filter((milestone) => !milestone.isClosed).map((milestone) => milestone.name),
    mayReadUnsigned: ctx.config.mayReadUnsigned,
    isDemo: ctx.config.kind === 'demo',
    outsideUrl: ctx.config.outsideUrl,
    needsFirstAdmin: firstAdminSecret(ctx) !== null,
    projects: sql<object, { prefix: string; name: string }>(ctx.db, 'SELECT prefix, name FROM project ORDER BY prefix').all({}),
    labels: names('SELECT DISTINCT value AS name FROM item, json_each(item.labels) ORDER BY value LIMIT 500'),
    sprints: names('SELECT DISTINCT sprint AS name FROM item WHERE sprint IS NOT NULL ORDER BY sprint DESC LIMIT 50'),
    releases: names(`SELECT service || '@' || name AS name FROM release ORDER BY at_ms DESC LIMIT 100`),
    setup,
  }
}

/** The counts of the index. */
export function readPlaces(ctx: ServiceContext, who: Who): Places {
  const count = (text: string, bind: object = {}) =>
    sql<object, { count: number }>(ctx.db, `SELECT count(*) AS count FROM ${text}`).get(bind)?.count ?? 0
  return {
    desk: readDesk(ctx, who).waiting.length,
    triage: count(`item i WHERE ${WAITING} AND ${VISIBLE_ITEM}`, viewerOf(who)),
    items: count(`item i WHERE i.is_open = 1 AND i.is_archived = 0 AND ${VISIBLE_ITEM}`, viewerOf(who)),
    faults: count(`fault f WHERE EXISTS (SELECT 1 FROM item i WHERE i.fault = 'F-' || f.number AND i.is_open = 1)`),
    code: count(`pull_request WHERE state = 'open'`),
    brokenBuilds:
      count(`build b WHERE b.state = 'broke' AND NOT EXISTS (SELECT 1 FROM build n WHERE n.repository = b.repository AND n.branch = b.branch AND n.number > b.number)
      AND EXISTS (SELECT 1 FROM git_ref g WHERE g.repository = b.repository AND g.ref = 'refs/heads/' || b.branch AND g.deleted_at_ms IS NULL)`),
    approvals: count(`deployment WHERE state = 'asked'`),
    requirements: count('requirement WHERE is_heading = 0'),
    inbox: countUnread(ctx, who),
  }
}

/** What waits for the asker and why; for a guest, what waits for anybody. */
export function readDesk(ctx: ServiceContext, who: Who): Desk {
  const waiting: Desk['waiting'] = []
  const items = (where: string) =>
    sql<object, ItemRow>(
      ctx.db,
      `SELECT ${ITEM_COLUMNS} FROM item i WHERE ${where} AND i.is_archived = 0 AND ${VISIBLE_ITEM} ORDER BY coalesce(i.severity, 9), i.created_at_ms DESC LIMIT 8`,
    ).all({ me: who.personId, ...viewerOf(who) })
  const mine = '(@me IS NULL OR i.owner_id = @me)'
  const add = (why: Desk['waiting'][number]['why'], rows: ItemRow[], detail: (row: ItemRow) => string) => {
    for (const row of rows)
      if (!waiting.some((entry) => entry.ref.id === row.key))
        waiting.push({
          why,
          ref: { kind: 'item', id: row.key },
          title: row.title,
          detail: detail(row),
          atMs: row.updated_at_ms,
          item: toSummary(row),
        })
  }
  add(
    'came-back',
    items(`i.is_open = 1 AND i.has_come_back = 1 AND (${mine} OR i.owner_id IS NULL)`),
    () => 'seen again in a release that holds its fix',
  )
  for (const row of sql<object, { deployment_id: string; service: string; release: string; environment: string; at_ms: number }>(
    ctx.db,
    `SELECT deployment_id, service, release, environment, at_ms FROM deployment WHERE state = 'asked' ORDER BY at_ms DESC LIMIT 8`,
  ).all({})) {
    waiting.push({
      why: 'approve',
      ref: { kind: 'release', id: `${row.service}@${row.release}` },
      title: `${row.service} ${row.release} wants to go to ${row.environment}`,
      detail: 'waits for an approval',
      atMs: row.at_ms,
      item: null,
    })
  }
  for (const row of sql<object, { repository: string; number: number; title: string; head: string; updated_at_ms: number }>(
    ctx.db,
    `SELECT repository, number, title, head, updated_at_ms FROM pull_request WHERE state = 'open' ORDER BY updated_at_ms DESC LIMIT 8`,
  ).all({})) {
    waiting.push({
      why: 'review',
      ref: { kind: 'pull-request', id: `${row.repository}/${row.number}` },
      title: row.title,
      detail: `pull request ${row.number} in ${row.repository}`,
      atMs: row.updated_at_ms,
      item: null,
    })
  }
  add('build-broke', items(`i.is_open = 1 AND ${mine} AND substr(i.stair, 4, 1) = 'x'`), () => 'the newest build of its branch broke')
  add(
    'decide',
    sql<object, ItemRow>(
      ctx.db,
      `SELECT ${ITEM_COLUMNS} FROM item i WHERE ${WAITING} AND i.has_come_back = 0 AND ${VISIBLE_ITEM} ORDER BY i.created_at_ms DESC LIMIT 5`,
    ).all(viewerOf(who)),
    (row) => (row.fault ? `from ${row.fault}` : 'waits in Triage'),
  )
  add('fix', items(`i.is_open = 1 AND ${mine} AND i.stage_rank = 1 AND i.severity <= 2`), () => 'accepted, nobody has started')
  add('verify', items(`i.is_open = 1 AND ${mine} AND i.stage_rank = 5 AND i.fault IS NULL`), () => 'released; nothing but a person can verify it')
  return { waiting, working: items(`i.is_open = 1 AND ${mine} AND i.stage_rank BETWEEN 2 AND 4`).map(toSummary) }
}

/** What needs a decision: the worst guess first, then the newest. */
export function listTriage(
  ctx: ServiceContext,
  who: Who,
  input: { limit: number; cursor?: string | undefined },
): { rows: TriageEntry[]; nextCursor: string | null; total: number } {
  const after = decodeCursor(input.cursor, 2) ?? [-Number.MAX_SAFE_INTEGER, '']
  const rows = sql<object, ItemRow>(
    ctx.db,
    `SELECT ${ITEM_COLUMNS} FROM item i WHERE ${WAITING} AND ${VISIBLE_ITEM} AND (-i.created_at_ms, i.key) > (@a, @b) ORDER BY i.created_at_ms DESC, i.key LIMIT @limit`,
  ).all({ a: after[0], b: after[1], limit: input.limit + 1, ...viewerOf(who) })
  const total =
    sql<object, { count: number }>(ctx.db, `SELECT count(*) AS count FROM item i WHERE ${WAITING} AND ${VISIBLE_ITEM}`).get(viewerOf(who))?.count ?? 0
  return {
    ...pageOf(
      rows,
      input.limit,
      (row) => toTriageEntry(ctx, row),
      (row) => [-row.created_at_ms, row.key],
    ),
    total,
  }
}

function toTriageEntry(ctx: ServiceContext, row: ItemRow): TriageEntry {
  const fault = row.fault ? readFaultSummary(ctx, row.fault) : null
  const from = fault
    ? fault.service
    : row.reporter_id
      ? (sql<object, { name: string }>(ctx.db, 'SELECT name FROM person WHERE person_id = @id').get({ id: row.reporter_id })?.name ?? row.reporter_id)
      : (row.came_from ?? row.logged_cause)
  const source = row.has_come_back === 1 ? 'came-back' : row.fault ? 'fault' : row.logged_cause === 'import' ? 'import' : 'person'
  return {
    item: toSummary(row),
    source,
    fault: row.fault,
    occurrences: fault?.occurrences ?? 0,
    peopleHit: fault?.peopleHit ?? 0,
    from,
    atMs: row.created_at_ms,
  }
}

/** What a decision on an item could look like, each with its reason: from the failing lines' history where there is a fault, from words otherwise. */
export async function readProposals(ctx: ServiceContext, who: Who, key: string): Promise<Proposals> {
  const row = requireItem(ctx, key)
  const proposals: Proposals = { severity: { value: 3, reason: 'no sign of more' }, owners: [], components: [], requirements: [], alike: [] }
  if (row.component)
    proposals.components.push({
      value: row.component,
      label: row.component,
      reason: row.fault ? 'its service belongs there' : 'the reporter chose it',
    })
  if (row.fault) await proposeFromFault(ctx, row.fault, proposals)
  proposeFromWords(ctx, row, proposals)
  for (const { item, sharedWords, relatedWords } of await findLookAlikes(ctx, who, {
    title: row.title,
    text: row.description,
    project: row.project,
    component: row.component ?? undefined,
    key,
  }))
    proposals.alike.push({
      value: item.key,
      label: item.title,
      reason:
        sharedWords.length > 0
          ? `shares “${sharedWords.slice(0, 3).join('”, “')}”`
          : `“${relatedWords[0]?.[0]}” is related to “${relatedWords[0]?.[1]}”`,
    })
  return proposals
}

async function proposeFromFault(ctx: ServiceContext, faultId: string, proposals: Proposals): Promise<void> {
  const fault = readFaultSummary(ctx, faultId)
  const isProduction = sql(ctx.db, `SELECT 1 FROM environment WHERE kind = 'production' AND name IN (SELECT value FROM json_each(@names))`).get({
    names: JSON.stringify(fault.environments),
  })
  proposals.severity = isProduction
    ? { value: 2, reason: `happens in production, ${fault.occurrences} times so far` }
    : { value: 3, reason: 'not seen in production' }
  const frames = (await readFaultFrames(ctx, faultId)).frames.filter((frame) => frame.blame)
  for (const frame of frames) {
    if (!frame.blame) continue
    const person = sql<object, { person_id: string; name: string }>(ctx.db, 'SELECT person_id, name FROM person WHERE name = @name').get({
      name: frame.blame.author,
    })
    if (person && !proposals.owners.some((owner) => owner.value === person.person_id))
      proposals.owners.push({ value: person.person_id, label: person.name, reason: `last changed ${frame.path}:${frame.line}` })
    for (const item of frame.blame.items) {
      for (const link of sql<object, { to_id: string; title: string }>(
        ctx.db,
        `SELECT l.to_id, r.title FROM link_assertion l JOIN requirement r ON r.key = l.to_id WHERE l.from_kind = 'item' AND l.from_id = @item AND l.to_kind = 'requirement' AND l.retracted_at_ms IS NULL`,
      ).all({ item })) {
        if (!proposals.requirements.some((entry) => entry.value === link.to_id))
          proposals.requirements.push({ value: link.to_id, label: link.title, reason: `the failing line came with ${item}, which is tied to it` })
      }
    }
  }
}

/** Requirements that share words with the report. */
function proposeFromWords(ctx: ServiceContext, row: ItemRow, proposals: Proposals): void {
  const words = [...new Set(`${row.title} ${row.description.slice(0, 400)}`.toLowerCase().match(/[a-z]{4,}/g) ?? [])].slice(0, 24)
  if (words.length === 0) return
  const scored = sql<object, { key: string; title: string; text: string }>(
    ctx.db,
    'SELECT key, title, text FROM requirement WHERE is_heading = 0 ORDER BY position LIMIT 2000',
  )
    .all({})
    .map((requirement) => ({ requirement, shared: words.filter((word) => `${requirement.title} ${requirement.text}`.toLowerCase().includes(word)) }))
    .filter((entry) => entry.shared.length > 1)
    .sort((a, b) => b.shared.length - a.shared.length)
    .slice(0, 3)
  for (const { requirement, shared } of scored) {
    if (!proposals.requirements.some((entry) => entry.value === requirement.key))
      proposals.requirements.push({ value: requirement.key, label: requirement.title, reason: `shares “${shared.slice(0, 3).join('”, “')}”` })
  }
}

/** Things by key, hash or words: exact names first. */
export function search(ctx: ServiceContext, who: Who, input: { q: string; limit: number }): SearchHit[] {
  const q = input.q.trim()
  if (q === '') return []
  const hits: SearchHit[] = []
  const key = q.toUpperCase()
  const item = sql<object, ItemRow>(ctx.db, `SELECT ${ITEM_COLUMNS} FROM item i WHERE i.key = @key AND ${VISIBLE_ITEM}`).get({
    key: currentKey(ctx.db, key),
    ...viewerOf(who),
  })
  if (item) hits.push({ ref: { kind: 'item', id: item.key }, title: item.title, detail: `${item.key} ${item.type}`, stair: item.stair })
  const fault =
    /^F-(\d{1,9})$/.exec(key) &&
    sql<object, { number: number; type: string; message: string }>(ctx.db, 'SELECT number, type, message FROM fault WHERE number = @number').get({
      number: Number(key.slice(2)),
    })
  if (fault)
    hits.push({ ref: { kind: 'fault', id: `F-${fault.number}` }, title: `${fault.type}: ${fault.message}`, detail: `F-${fault.number}`, stair: null })
  for (const row of sql<object, { key: string; title: string }>(
    ctx.db,
    `SELECT key, title FROM requirement WHERE is_heading = 0 AND (key = @key OR title LIKE @like ESCAPE '\\') ORDER BY key = @key DESC, position LIMIT 4`,
  ).all({ key, like: `%${q.replace(/[\\%_]/g, '\\$&')}%` })) {
    hits.push({ ref: { kind: 'requirement', id: row.key }, title: row.title, detail: row.key, stair: null })
  }
  if (/^[0-9a-f]{4,64}$/i.test(q)) {
    for (const row of sql<object, { repository: string; sha: string; message: string }>(
      ctx.db,
      `SELECT repository, sha, message FROM git_commit WHERE sha >= @q AND sha < @q || 'g' ORDER BY sha LIMIT 5`,
    ).all({ q: q.toLowerCase() })) {
      hits.push({
        ref: { kind: 'commit', id: `${row.repository}/${row.sha}` },
        title: row.message.split('\n', 1)[0] ?? '',
        detail: `${row.sha.slice(0, 7)} in ${row.repository}`,
        stair: null,
      })
    }
  }
  const match = (q.match(/[\p{L}\p{N}]+/gu) ?? []).map((word) => `"${word}"*`).join(' ')
  if (match) {
    for (const row of sql<object, ItemRow>(
      ctx.db,
      `SELECT ${ITEM_COLUMNS} FROM item_search s JOIN item i ON i.key = s.key WHERE item_search MATCH @match AND ${VISIBLE_ITEM} ORDER BY bm25(item_search, 0, 4, 1) LIMIT @limit`,
    ).all({ match, limit: input.limit, ...viewerOf(who) })) {
      if (row.key !== item?.key)
        hits.push({ ref: { kind: 'item', id: row.key }, title: row.title, detail: `${row.key} ${row.type}`, stair: row.stair })
    }
  }
  const pr = splitRepositoryId(q)
  if (pr && /^\d+$/.test(pr.rest))
    hits.push({ ref: { kind: 'pull-request', id: q }, title: `Pull request ${pr.rest}`, detail: pr.repository, stair: null })
  return hits.slice(0, input.limit)
}

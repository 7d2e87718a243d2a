import { firstLine } from '@dystracer/core/text/first-line'
import { type SqlValue, sql } from '#platform/db/statements'
import { mayIn } from '@dystracer/core/people/standing'
import type { Me, Places, SearchHit } from '@dystracer/core/desk/wire'
import type { Person } from '@dystracer/core/people/wire'
import { splitRepositoryId } from '@dystracer/core/basics/node-ref'
import type { Who } from '@dystracer/core/people/who'
import { readDesk } from './desk.views.js'
import type { ServiceContext } from '#platform/context'
import { countUnread } from '#subjects/inbox/index'
import { searchItems } from '#subjects/looking/index'
import { firstAdminSecret, viewerOf } from '#subjects/people/index'
import {
  currentKey,
  hiddenPrefixes,
  hiddenRepositories,
  hiddenServices,
  type ItemRow,
  mayReadThing,
  VISIBLE_ITEM,
} from '#subjects/records/index'
import { readSetup } from '#subjects/setup/index'
import { countWaiting } from '#subjects/triage/index'
import {
  GET_FAULT_BY_NUMBER,
  GET_ITEM_BY_KEY,
  LIST_GIT_COMMIT_BY_Q,
  LIST_PERSON,
  LIST_PROJECT,
  LIST_REQUIREMENT_BY_KEY_AND_LIKE,
} from './overview.queries.js'

const NO_PROJECT = { prefix: '', name: '', isArchived: false }

/** Who is asking, and what the interface needs to know of the project that they work in: the chosen one, or the first. */
export function readMe(ctx: ServiceContext, who: Who, chosen?: string): Me {
  const projects = sql(ctx.db, LIST_PROJECT)
    .all<{ prefix: string; name: string }>({})
    .filter((row) => mayIn(who, 'project.read', row.prefix))
    .map((row) => ({ ...row, isArchived: who.archived?.includes(row.prefix) === true }))
  const project =
    projects.find((known) => known.prefix === chosen) ?? projects.find((known) => !known.isArchived) ?? projects[0] ?? NO_PROJECT
  const { readsAll, readable } = viewerOf(who)
  const people = sql(ctx.db, LIST_PERSON).all<Person>({ prefix: project.prefix, readsAll, readable })
  const setup = readSetup(ctx.db, project.prefix)
  const names = (text: string) =>
    sql(ctx.db, text)
      .all<{ name: string }>({ project: project.prefix })
      .map((row) => row.name)
  return {
    person: people.find((person) => person.personId === who.personId) ?? null,
    csrfToken: who.csrfToken ?? '',
    project: { prefix: project.prefix, name: project.name },
    people,
    components: names('SELECT name FROM component WHERE project = @project ORDER BY name'),
    milestones: setup.milestones.filter((milestone) => !milestone.isClosed).map((milestone) => milestone.name),
    mayReadUnsigned: ctx.config.mayReadUnsigned,
    signInHint: ctx.config.signInHint,
    outsideUrl: ctx.config.outsideUrl,
    tour: [...ctx.config.tour],
    needsFirstAdmin: firstAdminSecret(ctx) !== null,
    projects,
    labels: setup.labels.map((known) => known.label),
    sprints: names(
      'SELECT DISTINCT sprint AS name FROM item WHERE project = @project AND sprint IS NOT NULL ORDER BY sprint DESC LIMIT 50',
    ),
    releases: names(
      `SELECT r.service || '@' || r.name AS name FROM release r JOIN service s ON s.name = r.service
        WHERE s.project = @project ORDER BY r.at_ms DESC LIMIT 100`,
    ),
    setup,
  }
}

/** The counts of the index. */
export function readPlaces(ctx: ServiceContext, who: Who): Places {
  const count = (text: string, bind: Record<string, SqlValue> = {}) =>
    sql(ctx.db, `SELECT count(*) AS count FROM ${text}`).get<{ count: number }>(bind)?.count ?? 0
  const viewer = viewerOf(who)
  const repositories = { hidden: hiddenRepositories(ctx.db, who) }
  return {
    desk: readDesk(ctx, who).waiting.length,
    triage: countWaiting(ctx, who),
    // Nearly all are for everybody: those are counted in the index alone.
    items:
      count(
        `item INDEXED BY item_open
          WHERE is_open = 1 AND is_archived = 0 AND is_confidential = 0
          AND (@readsAll = 1 OR +project IN (SELECT value FROM json_each(@readable)))`,
        { readsAll: viewer.readsAll, readable: viewer.readable },
      ) +
      count(`item i INDEXED BY item_open WHERE i.is_open = 1 AND i.is_archived = 0 AND i.is_confidential = 1 AND ${VISIBLE_ITEM}`, viewer),
    // From the few items that stand for faults: from the faults, each would be looked for among all open items.
    faults: count('(SELECT DISTINCT fault FROM item INDEXED BY item_fault WHERE fault IS NOT NULL AND is_open = 1)'),
    code: count(`pull_request WHERE state = 'open' AND +repository NOT IN (SELECT value FROM json_each(@hidden))`, repositories),
    brokenBuilds: count(
      `build b
        WHERE b.state = 'broke' AND +b.repository NOT IN (SELECT value FROM json_each(@hidden))
        AND NOT EXISTS (SELECT 1 FROM build n
        WHERE n.repository = b.repository AND n.branch = b.branch AND n.number > b.number)
      AND EXISTS (SELECT 1 FROM git_ref g
        WHERE g.repository = b.repository AND g.ref = 'refs/heads/' || b.branch AND g.deleted_at_ms IS NULL)`,
      repositories,
    ),
    incidents: count(
      'incident INDEXED BY incident_open WHERE over_at_ms IS NULL AND project NOT IN (SELECT value FROM json_each(@hidden))',
      {
        hidden: hiddenPrefixes(ctx.db, who),
      },
    ),
    approvals: count(`deployment WHERE state = 'asked' AND service NOT IN (SELECT value FROM json_each(@hidden))`, {
      hidden: hiddenServices(ctx.db, who),
    }),
    requirements: count(
      `requirement WHERE is_heading = 0 AND substr(key, 1, instr(key, '-') - 1) NOT IN (SELECT value FROM json_each(@hidden))`,
      {
        hidden: hiddenPrefixes(ctx.db, who),
      },
    ),
    inbox: countUnread(ctx, who),
  }
}

/** Things by key, hash or words: exact names first. */
export function search(ctx: ServiceContext, who: Who, input: { q: string; limit: number }): SearchHit[] {
  const q = input.q.trim()
  if (q === '') return []
  const hits: SearchHit[] = []
  const key = q.toUpperCase()
  const item = sql(ctx.db, GET_ITEM_BY_KEY).get<ItemRow>({
    key: currentKey(ctx.db, key),
    ...viewerOf(who),
  })
  if (item)
    hits.push({
      ref: { kind: 'item', id: item.key },
      title: item.title,
      detail: `${item.key} ${item.type}`,
      stair: item.stair,
      found: null,
    })
  const fault =
    /^F-(\d{1,9})$/.exec(key) &&
    sql(ctx.db, GET_FAULT_BY_NUMBER).get<{ number: number; type: string; message: string }>({
      number: Number(key.slice(2)),
    })
  if (fault && mayReadThing(ctx.db, who, { kind: 'fault', id: `F-${fault.number}` }))
    hits.push({
      ref: { kind: 'fault', id: `F-${fault.number}` },
      title: `${fault.type}: ${fault.message}`,
      detail: `F-${fault.number}`,
      stair: null,
      found: null,
    })
  for (const row of sql(ctx.db, LIST_REQUIREMENT_BY_KEY_AND_LIKE).all<{ key: string; title: string }>({
    key,
    like: `%${q.replace(/[\\%_]/g, '\\$&')}%`,
    hidden: hiddenPrefixes(ctx.db, who),
  })) {
    hits.push({ ref: { kind: 'requirement', id: row.key }, title: row.title, detail: row.key, stair: null, found: null })
  }
  if (/^[0-9a-f]{4,64}$/i.test(q)) {
    for (const row of sql(ctx.db, LIST_GIT_COMMIT_BY_Q).all<{ repository: string; sha: string; message: string }>({
      q: q.toLowerCase(),
      hidden: hiddenRepositories(ctx.db, who),
    })) {
      hits.push({
        ref: { kind: 'commit', id: `${row.repository}/${row.sha}` },
        title: firstLine(row.message),
        detail: `${row.sha.slice(0, 7)} in ${row.repository}`,
        stair: null,
        found: null,
      })
    }
  }
  for (const found of searchItems(ctx, who, q, input.limit))
    if (found.key !== item?.key)
      hits.push({
        ref: { kind: 'item', id: found.key },
        title: found.title,
        detail: `${found.key} ${found.type}`,
        stair: found.stair,
        found: found.marked,
      })
  const pr = splitRepositoryId(q)
  if (pr && /^\d+$/.test(pr.rest) && mayReadThing(ctx.db, who, { kind: 'repository', id: pr.repository }))
    hits.push({ ref: { kind: 'pull-request', id: q }, title: `Pull request ${pr.rest}`, detail: pr.repository, stair: null, found: null })
  return hits.slice(0, input.limit)
}

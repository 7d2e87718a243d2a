import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { ServiceContext } from '@dystracer/server/platform/context'

export interface WorldSize {
  items: number
  comments: number
  /** Of the items, so many wait for a decision. */
  waiting: number
  notices: number
}

/** Words whose frequency follows Zipf's law, as in real texts: the rank is drawn so that its logarithm is uniform. */
export function makeText(random: () => number): (count: number) => string {
  const words = readFileSync(join(import.meta.dirname, '../../server/data/words.txt'), 'utf8').split('\n')
  const word = () => words[Math.min(words.length - 1, Math.floor(Math.exp(random() * Math.log(words.length))))] ?? 'kiln'
  return (count) => Array.from({ length: count }, word).join(' ')
}

/** A small generator with a seed, so that each run asks the same: mulberry32, whose neighbouring values are not tied to each other. */
export function makeRandom(seed: number): () => number {
  let state = seed
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state)
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296
  }
}

/**
 * Fills a fresh data folder with made-up items, comments and notices, straight into the tables: benchmarks of reading need the rows, not
 * their history. The project, its people and a few releases
 * come through the journal.
 */
export function fillWorld(ctx: Pick<ServiceContext, 'db' | 'journal'>, size: WorldSize): void {
  const system = { actor: 'system', subjects: [] as string[] }
  ctx.journal.write((writer) => {
    writer.append({
      ...system,
      kind: 'project-created',
      body: { prefix: 'EMB', name: 'Emberwick', silenceMs: 60_000, requirementPrefixes: ['SAF'] },
    })
    for (const personId of ['ines', 'rafe', 'tam', 'mara']) {
      writer.append({
        ...system,
        kind: 'person-added',
        body: { personId, name: personId, initials: personId.slice(0, 2), email: `${personId}@emberwick.example` },
      })
      writer.append({ ...system, kind: 'role-given', body: { project: 'EMB', personId, role: 'lead' } })
    }
    for (const name of ['Kiln control', 'Firing planner', 'Glaze lab', 'Billing'])
      writer.append({
        ...system,
        kind: 'component-added',
        body: { project: 'EMB', name, keeperId: 'ines', repository: null, pathPrefix: null },
      })
  })
  const { db } = ctx
  const random = makeRandom(7)
  const text = makeText(random)
  const pick = <Value>(values: readonly Value[]): Value => values[Math.floor(random() * values.length)] as Value
  const nowMs = Date.now()
  const addItem = db.prepare(`INSERT INTO item (key, project, number, type, title, description, severity, owner_id, reporter_id,
      component, milestone, labels, logged_cause, logged_by, created_at_ms, updated_at_ms,
    accepted_at_ms, accepted_by, stage, stage_rank, stair, is_open, due_on)
      VALUES (@key, 'EMB', @number, @type, @title, @description, @severity, @owner, @reporter, @component, @milestone,
      @labels, 'person', 'person:ines', @atMs, @updatedAtMs,
    @acceptedAtMs, 'person:ines', @stage, @rank, @stair, @isOpen, @dueOn)`)
  const addComment = db.prepare('INSERT INTO comment (comment_id, item_key, by, at_ms, text) VALUES (@id, @key, @by, @atMs, @text)')
  const addNotice = db.prepare(
    `INSERT INTO notice (notice_id, person_id, item_key, why, by, words, at_ms, read_at_ms, way)
      VALUES (@id, 'ines', @key, 'followed', 'person:rafe', @words, @atMs, NULL, 'screen')`,
  )
  const some = Array.from({ length: 2000 }, () => text(30))
  db.pragma('synchronous = OFF')
  db.transaction(() => {
    for (let number = 1; number <= size.items; number++) {
      const isWaiting = number > size.items - size.waiting
      const atMs = nowMs - (size.items - number) * 60_000
      addItem.run({
        key: `EMB-${number}`,
        number,
        title: text(8),
        description: pick(some),
        severity: isWaiting && random() < 0.7 ? null : 1 + Math.floor(random() * 5),
        owner: pick(['ines', 'rafe', 'tam', null]),
        reporter: pick(['ines', 'rafe', 'tam', 'mara']),
        type: pick(['defect', 'defect', 'defect', 'story', 'task']),
        component: pick(['Kiln control', 'Firing planner', 'Glaze lab', 'Billing']),
        milestone: pick(['4.1', '4.2', '4.3', '5.0', null]),
        labels: pick(['[]', '["safety"]', '["hardware"]', '["safety","sensor"]']),
        dueOn: random() < 0.1 ? new Date(nowMs + Math.floor((random() - 0.5) * 120) * 86_400_000).toISOString().slice(0, 10) : null,
        atMs,
        updatedAtMs: Math.min(nowMs, atMs + Math.floor(random() ** 4 * (nowMs - atMs))),
        acceptedAtMs: isWaiting ? null : atMs,
        stage: isWaiting ? 'logged' : 'accepted',
        rank: isWaiting ? 0 : 1,
        stair: isWaiting ? 'pwwwwww' : 'ppwwwww',
        isOpen: Number(isWaiting || number % 2 === 0),
      })
    }
    for (let number = 0; number < size.comments; number++) {
      const key = `EMB-${1 + Math.floor(random() * size.items)}`
      addComment.run({ id: `c${number}`, key, by: pick(['person:ines', 'person:rafe']), atMs: nowMs - number * 1000, text: pick(some) })
    }
    for (let number = 0; number < size.notices; number++)
      addNotice.run({
        id: `n${number}`,
        key: `EMB-${1 + Math.floor(random() * Math.min(size.items, 20_000))}`,
        words: pick(some).slice(0, 200),
        atMs: nowMs - number * 1000,
      })
    db.exec(`
      INSERT INTO item_search_row (key) SELECT key FROM item;
      INSERT INTO item_search (rowid, title, description) SELECT r.rowid, i.title, i.description
        FROM item_search_row r JOIN item i ON i.key = r.key;
      INSERT INTO comment_search_row (rowid, comment_id)
        SELECT (r.rowid << 20) + row_number() OVER (PARTITION BY c.item_key), c.comment_id FROM comment c
          JOIN item_search_row r ON r.key = c.item_key;
      INSERT INTO comment_search (rowid, text) SELECT r.rowid, c.text FROM comment_search_row r
        JOIN comment c ON c.comment_id = r.comment_id`)
  })()
  db.exec('ANALYZE')
  db.pragma('synchronous = FULL')
}

import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { LikenessIndex } from '@dystracer/core/likeness/likeness-index'
import { readWordVectors } from '@dystracer/server/subjects/likeness/word-vectors'
import { makeConfig } from '@dystracer/server/platform/config/config'
import { buildContext } from '@dystracer/server/context'
import { sql } from '@dystracer/server/platform/db/statements'
import { startServer } from '@dystracer/server/server'
import { makeToken } from '@dystracer/server/subjects/people/tokens.commands'
import type { ServiceContext } from '@dystracer/server/platform/context'
import { benchLooking } from './bench-looking.js'
import { fillWorld, makeRandom, makeText, type WorldSize } from './bench-world.js'

type Figures = Record<string, number>
const ITEMS = 200_000
const COMMENTS = 1_000_000
const QUESTIONS = 200
const WORDS_PER_ITEM = 40
const TURNS = 300
const BULK = 5_000

interface Bench {
  ctx: ServiceContext
  get(path: string): Promise<string>
  call(method: string, path: string, body: object): Promise<string>
  url: string
  token: string
}

/** Runs against a real server on a filled folder, over HTTP; the folder goes afterwards. */
async function withWorld(size: WorldSize, run: (bench: Bench) => Promise<Figures>): Promise<Figures> {
  const dataDir = mkdtempSync(join(tmpdir(), 'dystracer-bench-'))
  try {
    const owned = buildContext({ ...makeConfig('real', { DYSTRACER_LOG: 'silent', DYSTRACER_REQUESTS_PER_MINUTE: 0 }), dataDir, port: 0 })
    fillWorld(owned.ctx, size)
    const server = await startServer(owned)
    const token = makeToken(owned.ctx.db, { name: 'bench', project: null, scope: 'admin', nowMs: Date.now() })
    const url = `http://127.0.0.1:${server.port}/api/v1`
    const headers = { authorization: `Bearer ${token}`, 'content-type': 'application/json' }
    const ask = async (path: string, init: RequestInit = {}) => {
      const response = await fetch(`${url}${path}`, { ...init, headers })
      const text = await response.text()
      if (!response.ok) throw new Error(`${path} answered ${response.status}: ${text}`)
      return text
    }
    // The index of look-alikes is read in a worker of its own; measured is what comes after.
    await ask('/look-alikes?title=kiln%20stays%20cold')
    const figures = await run({
      ctx: owned.ctx,
      url,
      token,
      get: (path) => ask(path),
      call: (method, path, body) => ask(path, { method, body: JSON.stringify(body) }),
    })
    await server.stop()
    return figures
  } finally {
    rmSync(dataDir, { recursive: true, force: true })
  }
}

async function timed(turns: number, act: (turn: number) => Promise<unknown> | unknown): Promise<number[]> {
  const tookMs: number[] = []
  for (let turn = 0; turn < turns; turn++) {
    const startedMs = performance.now()
    await act(turn)
    tookMs.push(performance.now() - startedMs)
  }
  return tookMs.sort((a, b) => a - b)
}

const middle = (values: readonly number[]) =>
  at(
    [...values].sort((a, b) => a - b),
    0.5,
  )
const at = (sorted: readonly number[], share: number) => Number((sorted[Math.floor(sorted.length * share)] ?? 0).toFixed(2))

/**
 * At 200,000 items and 1,000,000 comments: what a pane needs to open an item (item, comments, history, files, note in one go) beside the
 * bare rows by the same keys; a saved field until another
 * stream hears of it; look-alikes.
 */
export async function benchItems(): Promise<Figures> {
  const opening = await withWorld({ items: ITEMS, comments: COMMENTS, waiting: 0, notices: 0 }, async ({ ctx, get, call, url, token }) => {
    const random = makeRandom(11)
    const key = () => `EMB-${1 + Math.floor(random() * ITEMS)}`
    const paths = ['', '/comments', '/history', '/attachments', '/time']
    await timed(20, () => Promise.all(paths.map((path) => get(`/items/${key()}${path}`))))
    const open = await timed(TURNS, () => {
      const one = key()
      return Promise.all(paths.map((path) => get(`/items/${one}${path}`)))
    })
    const bare = await timed(TURNS, () => {
      const one = key()
      sql(ctx.db, 'SELECT * FROM item WHERE key = @key').get({ key: one })
      sql(ctx.db, 'SELECT * FROM comment WHERE item_key = @key ORDER BY at_ms LIMIT 100').all({ key: one })
    })
    const seen = await savedUntilSeen({ call, url, token }, key)
    const looking = benchLooking(ctx)
    // It held the event loop: connections that were closed meanwhile are noticed first.
    await new Promise((resolve) => setTimeout(resolve, 500))
    const bulk = await benchBulk(ctx, call)
    return {
      items: ITEMS,
      comments: COMMENTS,
      openMedianMs: at(open, 0.5),
      openP95Ms: at(open, 0.95),
      bareRowsMedianMs: at(bare, 0.5),
      savedUntilSeenMedianMs: at(seen, 0.5),
      savedUntilSeenP95Ms: at(seen, 0.95),
      ...looking,
      ...bulk,
    }
  })
  return { ...opening, ...benchLookAlikes() }
}

/** A change of 5,000 items and its undo, beside the same rows updated bare in one transaction. */
async function benchBulk(ctx: ServiceContext, call: Bench['call']): Promise<Figures> {
  const keys = Array.from({ length: BULK }, (_, index) => `EMB-${1 + index * Math.floor(ITEMS / BULK)}`)
  const bare = await timed(5, (turn) =>
    ctx.db
      .transaction(() => {
        for (const key of keys) sql(ctx.db, 'UPDATE item SET sprint = @sprint WHERE key = @key').run({ key, sprint: `bare ${turn}` })
      })
      .immediate(),
  )
  const change: number[] = []
  const undo: number[] = []
  for (let turn = 0; turn < 5; turn++) {
    let answer = ''
    change.push(
      ...(await timed(1, async () => (answer = await call('POST', '/items-bulk', { keys, change: { sprint: `bench ${turn}` } })))),
    )
    const { seqs } = JSON.parse(answer) as { seqs: number[] }
    undo.push(...(await timed(1, () => call('POST', '/items-bulk/undo', { seqs }))))
  }
  return { bulkItems: BULK, bulkMedianMs: middle(change), bulkUndoMedianMs: middle(undo), bareBulkMedianMs: at(bare, 0.5) }
}

/** From sending a changed field to the message about it on another live stream. */
async function savedUntilSeen({ call, url, token }: Pick<Bench, 'call' | 'url' | 'token'>, key: () => string): Promise<number[]> {
  const stop = new AbortController()
  const response = await fetch(`${url}/live`, { headers: { authorization: `Bearer ${token}` }, signal: stop.signal })
  let told = ''
  let wake = () => {}
  void (async () => {
    const decoder = new TextDecoder()
    for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
      told += decoder.decode(chunk, { stream: true })
      wake()
    }
  })().catch(() => {})
  const tookMs = await timed(100, async (turn) => {
    const one = key()
    told = ''
    const seen = new Promise<void>((resolve) => {
      wake = () => {
        if (told.includes(`"item:${one}"`)) resolve()
      }
    })
    await Promise.all([call('PATCH', `/items/${one}`, { title: `Changed for the ${turn}th time` }), seen])
  })
  stop.abort()
  return tookMs
}

/** Look-alikes among 200,000 made-up items whose words follow Zipf's law, as in real texts; median and 95th percentile of one question. */
function benchLookAlikes(): Figures {
  const random = makeRandom(7)
  const text = makeText(random)
  const index = new LikenessIndex({ vectors: readWordVectors() })
  const startedMs = performance.now()
  for (let number = 1; number <= ITEMS; number++)
    index.add({ id: `EMB-${number}`, title: text(8), text: text(WORDS_PER_ITEM), scope: 'EMB', component: null })
  const buildSeconds = (performance.now() - startedMs) / 1000
  const tookMs: number[] = []
  for (let turn = 0; turn < QUESTIONS; turn++) {
    const question = { id: '', title: text(8), text: text(20), scope: 'EMB', component: null }
    const askedMs = performance.now()
    index.find(question, { limit: 12 })
    tookMs.push(performance.now() - askedMs)
  }
  tookMs.sort((a, b) => a - b)
  return { lookAlikesMedianMs: at(tookMs, 0.5), lookAlikesP95Ms: at(tookMs, 0.95), indexBuildSeconds: Number(buildSeconds.toFixed(1)) }
}

/**
 * A queue of 5,000 waiting among 50,000 items: its first page, a decision and the page after it; an inbox of 100,000 entries; each beside
 * bare rows by an index.
 */
export async function benchTriage(): Promise<Figures> {
  return withWorld({ items: 50_000, comments: 0, waiting: 5_000, notices: 100_000 }, async ({ ctx, get, call }) => {
    const token = {
      actor: 'person:ines',
      personId: 'ines',
      roles: {},
      everywhere: 'lead',
      limits: null,
      via: 'session',
      scope: null,
      csrfToken: null,
      provenAtMs: null,
    } as const
    const { listInbox } = await import('@dystracer/server/subjects/inbox/notices')
    await timed(3, () => get('/triage?limit=100'))
    const page = await timed(100, () => get('/triage?limit=100'))
    const bare = await timed(100, () =>
      sql(
        ctx.db,
        `SELECT key, title, severity, component, created_at_ms FROM item INDEXED BY item_undecided
        WHERE is_open = 1 AND is_archived = 0 AND stage_rank = 0 AND accepted_at_ms IS NULL AND has_come_back = 0
          ORDER BY created_at_ms LIMIT 5000`,
      ).all({}),
    )
    const keys = (JSON.parse(await get('/triage?limit=100')) as { rows: { item: { key: string } }[] }).rows.map((row) => row.item.key)
    const decide = await timed(keys.length, (turn) => call('POST', `/items/${keys[turn]}/accept`, { severity: 3, asWaiting: true }))
    const places = await timed(50, () => get('/places'))
    const inbox = await timed(100, () => listInbox(ctx, token, { view: 'unread', limit: 60 }))
    const bareNotices = await timed(100, () =>
      sql(ctx.db, 'SELECT * FROM notice WHERE person_id = @personId AND read_at_ms IS NULL ORDER BY at_ms DESC LIMIT 60').all({
        personId: 'ines',
      }),
    )
    return {
      waiting: 5_000,
      firstPageMedianMs: at(page, 0.5),
      firstPageP95Ms: at(page, 0.95),
      bareRowsMedianMs: at(bare, 0.5),
      decideMedianMs: at(decide, 0.5),
      decideP95Ms: at(decide, 0.95),
      placesMedianMs: at(places, 0.5),
      notices: 100_000,
      inboxMedianMs: at(inbox, 0.5),
      inboxP95Ms: at(inbox, 0.95),
      bareNoticesMedianMs: at(bareNotices, 0.5),
    }
  })
}

import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { buildContext } from '@dystracer/server/context'
import { makeConfig } from '@dystracer/server/platform/config/config'
import { startServer } from '@dystracer/server/server'
import { makeToken } from '@dystracer/server/subjects/people/tokens.commands'
import { makeRandom, makeText } from './bench-world.js'

const REQUIREMENTS = 5_000
const REVISIONS = 12
const BATCH = 500
const DAY_MS = 86_400_000
const TURNS = 9

/**
 * Looking back in a journal of 60,000 entries (5,000 requirements, written anew eleven times over a year): to the middle of the year from
 * nothing, to a month later from there, and what a list takes there and now; beside reading and parsing the same entries bare.
 */
export async function benchPast(): Promise<Record<string, number>> {
  const dataDir = mkdtempSync(join(tmpdir(), 'dystracer-bench-'))
  let nowMs = Date.now() - 365 * DAY_MS
  const beganAtMs = nowMs
  try {
    const config = { ...makeConfig('real', { DYSTRACER_LOG: 'silent', DYSTRACER_REQUESTS_PER_MINUTE: 0 }), dataDir, port: 0 }
    const owned = buildContext(config, { nowMs: () => nowMs })
    const { ctx } = owned
    const text = makeText(makeRandom(11))
    const system = { actor: 'system', subjects: [] as string[] }
    ctx.journal.write((writer) => {
      writer.append({
        ...system,
        kind: 'project-created',
        body: { prefix: 'EMB', name: 'Emberwick', silenceMs: 60_000, requirementPrefixes: ['SAF'] },
      })
    })
    for (let revision = 1; revision <= REVISIONS; revision++)
      for (let from = 0; from < REQUIREMENTS; from += BATCH) {
        nowMs = beganAtMs + (365 * DAY_MS * ((revision - 1) * REQUIREMENTS + from)) / (REVISIONS * REQUIREMENTS)
        ctx.journal.write((writer) => {
          for (let at = from; at < from + BATCH; at++) {
            const key = `SAF-${at + 1}`
            const body = { key, title: text(6), text: text(30), parent: null, isHeading: false, revision, position: at }
            writer.append({ actor: 'system', subjects: [`requirement:${key}`], kind: 'requirement-written', body })
          }
        })
      }
    nowMs = Date.now()
    const server = await startServer(owned)
    const token = makeToken(ctx.db, { name: 'bench', project: null, scope: 'admin', nowMs })
    const headers = { authorization: `Bearer ${token}` }
    const root = `http://127.0.0.1:${server.port}`
    const instant = (days: number) => new Date(beganAtMs + days * DAY_MS).toISOString().replace(/\.\d+Z$/, 'Z')
    const openMs = async (days: number) => {
      const startedMs = performance.now()
      for (;;) {
        const answer = await fetch(`${root}/api/v1/past?at=${instant(days)}`, { headers })
        if (!answer.ok) throw new Error(`${instant(days)} was answered ${answer.status}`)
        if (((await answer.json()) as { isReady: boolean }).isReady) return performance.now() - startedMs
        await new Promise((resolve) => setTimeout(resolve, 20))
      }
    }
    const listMs = async (path: string) => {
      const tookMs: number[] = []
      for (let turn = 0; turn < TURNS; turn++) {
        const startedMs = performance.now()
        const answer = await fetch(`${root}${path}`, { headers })
        await answer.arrayBuffer()
        if (!answer.ok) throw new Error(`${path} was answered ${answer.status}`)
        tookMs.push(performance.now() - startedMs)
      }
      return tookMs.sort((a, b) => a - b)[TURNS >> 1] ?? 0
    }
    const bareStartedMs = performance.now()
    let bare = 0
    for (const row of ctx.db.prepare<[number], { body: string }>('SELECT body FROM journal WHERE seq <= ?').iterate(REQUIREMENTS * 6))
      bare += Object.keys(JSON.parse(row.body) as object).length
    const bareMs = performance.now() - bareStartedMs
    if (bare === 0) throw new Error('the journal is empty')
    const firstMs = await openMs(182)
    const figures = {
      entries: REQUIREMENTS * REVISIONS,
      halfAYearFromNothingMs: Math.round(firstMs),
      readBareMs: Math.round(bareMs),
      aMonthOnMs: Math.round(await openMs(212)),
      againMs: Math.round(await openMs(182)),
      listThenMs: Math.round(await listMs(`/api/past/${instant(182)}/v1/requirements`)),
      listNowMs: Math.round(await listMs('/api/v1/requirements')),
    }
    await server.stop()
    return figures
  } finally {
    rmSync(dataDir, { recursive: true, force: true })
  }
}

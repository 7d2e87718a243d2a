import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { planPicks } from '#subjects/git/pick-row'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, type App, type Ask } from './app-harness.js'

/** A service whose release 1.0.0 lies behind, and the changes of the main line since. */
const repo = new TestRepository()
let app: App
let ines: Ask
let wren: Ask
const look = () => app.server.sync.request('kiln', 'test')
const line = async (query = '') => (await ines(`/releases/kiln@1.0.0/maintenance${query}`)).body
const trial = async (shas: string[]) => (await ines('/releases/kiln@1.0.0/maintenance/trial', { method: 'POST', body: { shas } })).body
const make = (body: object, ask = ines) => ask('/releases/kiln@1.0.0/maintenance', { method: 'POST', body })
const commits: Record<string, string> = {}

beforeAll(async () => {
  repo.commit('src/heat.js', ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'].join('\n'), 'Heat')
  repo.git('tag', 'v1.0.0')
  commits.text = repo.commit('README.md', 'Kiln\n', 'Say what it is')
  commits.ramp = repo.commit('src/heat.js', ['a', 'b', 'C', 'd', 'e', 'f', 'g', 'h'].join('\n'), 'Ramp slower')
  commits.bound = repo.commit('src/heat.js', ['a', 'b', 'C2', 'd', 'e', 'f', 'g', 'h'].join('\n'), 'Bound the ramp\n\nFixes: EMB-1')
  commits.hold = repo.commit('src/hold.js', 'export const holdFor = 3\n', 'Hold for some minutes')
  commits.uses = repo.commit('src/panel.js', 'show(holdFor)\n', 'Show how long it holds\n\nFixes: EMB-2')
  app = await startApp()
  ines = await app.asks('ines')
  wren = await app.asks('wren')
  for (const title of ['Ramps too far', 'Nobody sees the hold']) await ines('/items', { method: 'POST', body: { title } })
  connectRepository(app, 'kiln', repo.dir)
  await look()
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

describe('the line of a release', () => {
  test('begins at the release, and lists what only the main line has, the newest first, with its items', async () => {
    const read = await line()
    expect(read).toMatchObject({ branch: 'maintenance/1.0', isThere: false, mainBranch: 'main', nextName: '1.0.1', ahead: [], more: 0 })
    expect(read.changes.map((change: { subject: string }) => change.subject)).toEqual([
      'Show how long it holds',
      'Hold for some minutes',
      'Bound the ramp',
      'Ramp slower',
      'Say what it is',
    ])
    expect(read.changes[2].items).toEqual(['EMB-1'])
  })

  test('says in which order changes are made, where one conflicts, and what each needs before it', async () => {
    const plan = await trial([commits.uses as string, commits.bound as string, commits.text as string])
    expect(plan.steps.map(({ sha, state }: { sha: string; state: string }) => [sha, state])).toEqual([
      [commits.text, 'fits'],
      [commits.bound, 'conflict'],
      [commits.uses, 'fits'],
    ])
    expect(plan.steps[1]).toMatchObject({
      files: ['src/heat.js'],
      needs: [{ sha: commits.ramp, subject: 'Ramp slower', why: 'lines', what: 'src/heat.js' }],
    })
    // It fits as text, and would not run.
    expect(plan.steps[2].needs).toEqual([{ sha: commits.hold, subject: 'Hold for some minutes', why: 'name', what: 'holdFor' }])
    expect(plan.further.map(({ sha }: { sha: string }) => sha)).toEqual([commits.ramp, commits.hold])
    const whole = await trial([commits.bound as string, commits.ramp as string])
    expect(whole.steps.map(({ sha, state }: { sha: string; state: string }) => [sha, state])).toEqual([
      [commits.ramp, 'fits'],
      [commits.bound, 'fits'],
    ])
    expect(whole.further).toEqual([])
  })

  test('is refused for what the main line does not have, for another line, and from who may not', async () => {
    expect((await make({ shas: [commits.bound], name: null })).body).toMatchObject({ code: 'conflict', facts: { files: ['src/heat.js'] } })
    expect(repo.git('branch', '--list', 'maintenance/*')).toBe('')
    expect((await make({ shas: ['f'.repeat(40)], name: null })).body.fields.shas).toContain('no change that the main line has')
    expect((await make({ shas: [], name: null })).status).toBe(422)
    expect((await make({ shas: [commits.text], name: null, branch: 'main' })).body.fields.branch).toContain('main line')
    expect((await make({ shas: [commits.text], name: null, branch: '--force' })).status).toBe(422)
    expect((await make({ shas: [commits.text], name: '1.0.0' })).body.detail).toContain('has a release 1.0.0 already')
    expect((await make({ shas: [commits.text], name: null }, wren)).status).toBe(403)
    repo.git('branch', 'other', `${commits.text}`)
    repo.git('checkout', '--quiet', '--orphan', 'strange')
    repo.git('commit', '--quiet', '--allow-empty', '-m', 'Strange')
    repo.git('checkout', '--quiet', 'main')
    await look()
    expect((await ines('/releases/kiln@1.0.0/maintenance?branch=strange')).body.detail).toContain('does not come from 1.0.0')
  })

  test('is pushed with the changes made anew, says where they come from, and is tagged when it is given a name', async () => {
    const made = await make({ shas: [commits.bound, commits.ramp], name: null })
    expect(made).toMatchObject({ status: 201, body: { branch: 'maintenance/1.0', release: null } })
    expect(repo.git('log', '--format=%s', 'v1.0.0..maintenance/1.0').split('\n')).toEqual(['Bound the ramp', 'Ramp slower'])
    expect(repo.git('log', '-1', '--format=%B', 'maintenance/1.0')).toContain(
      `(cherry picked from commit ${commits.bound})\n\nFixes: EMB-1`,
    )
    const read = await line()
    expect(read).toMatchObject({ isThere: true, tip: made.body.sha })
    expect(read.ahead).toHaveLength(2)
    expect(read.changes.map((change: { sha: string }) => change.sha)).toEqual([commits.uses, commits.hold, commits.text])
    const tagged = await make({ shas: [commits.text], name: '1.0.1' })
    expect(tagged.body).toMatchObject({ release: 'kiln@1.0.1' })
    expect(repo.git('rev-parse', 'v1.0.1^{commit}')).toBe(tagged.body.sha)
    const { items } = (await ines('/releases/kiln@1.0.1/contents?against=1.0.0')).body
    expect(items.map((item: { key: string }) => item.key)).toEqual(['EMB-1'])
  })

  test('is offered to be tagged, with the name that follows on it and what it leaves out', async () => {
    const tip = repo.git('rev-parse', 'maintenance/1.0')
    const main = (await ines('/services/kiln/next-release')).body
    expect(main.choices.slice(0, 2)).toMatchObject([{ branch: 'main' }, { branch: 'maintenance/1.0', sha: tip }])
    expect(main).toMatchObject({ leftOut: [], candidates: ['1.0.2-rc.1', '1.1.0-rc.1', '2.0.0-rc.1'] })
    const here = (await ines(`/services/kiln/next-release?of=${tip}`)).body
    expect(here).toMatchObject({ tip: { sha: tip, branch: 'maintenance/1.0' }, commits: 0 })
    expect(here.leftOut.map((item: { key: string }) => item.key)).toEqual(['EMB-2'])
    const older = (await ines(`/services/kiln/next-release?of=${commits.hold}`)).body
    expect(older).toMatchObject({ tip: { branch: null }, latest: '1.0.0' })
    expect(older.leftOut.map((item: { key: string }) => item.key)).toEqual(['EMB-2'])
    expect((await ines(`/services/kiln/next-release?of=${'e'.repeat(40)}`)).body.fields.of).toContain('no such commit')
  })
})

test('a trial says what git itself would do, and what it says to choose further makes all fit', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(fc.tuple(fc.nat(5), fc.boolean()), { minLength: 3, maxLength: 6 }), async (edits) => {
      const work = new TestRepository()
      try {
        // Lines that stand apart, and lines side by side: git takes changes of neighbouring lines for a conflict.
        const lines = ['one', 'two', '-', '-', '-', 'three', '-', '-', '-', 'four', 'five', 'six']
        const places = [0, 1, 5, 9, 10, 11]
        const base = work.commit('file.txt', lines.join('\n'), 'Begin')
        const missing: string[] = []
        for (const [at, [place]] of edits.entries()) {
          lines[places[place] as number] = `v${at}`
          missing.push(work.commit('file.txt', lines.join('\n'), `Change ${at}`))
        }
        const chosen = missing.filter((_, at) => edits[at]?.[1])
        const plan = await planPicks({ dir: work.dir, onto: base, chosen: chosen.toReversed(), missing })
        work.git('checkout', '--quiet', '-B', 'line', base)
        const really = chosen.map((sha) => {
          try {
            work.git('cherry-pick', sha)
            return 'fits'
          } catch {
            const isEmpty = work.git('status', '--porcelain') === ''
            work.git('cherry-pick', isEmpty ? '--skip' : '--abort')
            return isEmpty ? 'nothing' : 'conflict'
          }
        })
        expect(plan.steps.map(({ sha, state }) => [sha, state])).toEqual(chosen.map((sha, at) => [sha, really[at]]))
        if (!really.includes('conflict')) expect(plan.further).toEqual([])
        const again = await planPicks({ dir: work.dir, onto: base, chosen: [...chosen, ...plan.further], missing })
        expect(again.steps.filter(({ state }) => state === 'conflict')).toEqual([])
      } finally {
        work.remove()
      }
    }),
    { numRuns: 8 },
  )
})

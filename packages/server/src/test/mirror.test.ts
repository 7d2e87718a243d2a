import { existsSync, mkdtempSync, readdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, expect, test } from '@jest/globals'
import { fetchMirror } from '#subjects/git/mirror'
import { makeReach } from '#subjects/git/reach'
import { runGit } from '#subjects/git/run-git'
import { TestRepository } from './app-harness.js'

let repo: TestRepository
let scratch: string
let dir: string
beforeEach(() => {
  repo = new TestRepository()
  scratch = mkdtempSync(join(tmpdir(), 'dystracer-mirror-'))
  dir = join(scratch, 'kiln.git')
})
afterEach(() => {
  repo.remove()
  rmSync(scratch, { recursive: true, force: true })
})

const outside = { reach: makeReach([]), knownHostsFile: '/dev/null' }
const fetch = (more: { tell?: (progress: string) => void; signal?: AbortSignal; firstDepth?: number } = {}) =>
  fetchMirror(dir, { url: `file://${repo.dir}`, access: null }, { outside, ...more })
const commits = async () => Number((await runGit(['rev-list', '--all', '--count'], { dir })).toString())
let turn = 0
const history = (count: number) => {
  for (let more = 0; more < count; more++) repo.commit('a.txt', `${++turn}\n`, `Turn ${turn}`)
}

test('a long history comes in pieces, newest first, and is whole in the end, with its tags', async () => {
  history(40)
  repo.git('tag', 'v1', 'HEAD~35')
  repo.git('branch', 'old', 'HEAD~20')
  const heard: string[] = []
  const tips = await fetch({ firstDepth: 4, tell: (progress) => heard.push(progress) })
  expect(tips.map(({ ref }) => ref).sort()).toEqual(['refs/heads/main', 'refs/heads/old', 'refs/tags/v1'])
  expect(await commits()).toBe(40)
  expect(existsSync(join(dir, 'shallow'))).toBe(false)
  expect(heard.some((words) => /^Piece 2: [A-Z][a-z]+ objects: +\d+%/.test(words))).toBe(true)
  expect(await fetch({ firstDepth: 4 })).toEqual(tips)
})

test('one that was cut off goes on behind the last whole piece, whatever it left', async () => {
  history(60)
  const stopper = new AbortController()
  const cut = fetch({ firstDepth: 5, signal: stopper.signal, tell: (progress) => progress.startsWith('Piece 3') && stopper.abort() })
  await expect(cut).rejects.toThrow('was called off')
  const had = await commits()
  expect(had).toBeGreaterThanOrEqual(5)
  expect(had).toBeLessThan(60)
  writeFileSync(join(dir, 'shallow.lock'), '')
  writeFileSync(join(dir, 'objects/pack/tmp_pack_half'), 'half')
  await fetch({ firstDepth: 5 })
  expect(await commits()).toBe(60)
  expect([existsSync(join(dir, 'shallow')), readdirSync(join(dir, 'objects/pack')).some((name) => name.startsWith('tmp_'))]).toEqual([
    false,
    false,
  ])
})

test('a remote whose own history is cut off is read as far as it goes', async () => {
  history(9)
  const cut = join(scratch, 'cut')
  await runGit(['clone', '--quiet', '--depth=3', `file://${repo.dir}`, cut], { dir: scratch, also: 'file' })
  await fetchMirror(dir, { url: `file://${cut}`, access: null }, { outside, firstDepth: 1 })
  expect(await commits()).toBe(3)
})

test('a lock that nobody holds any more is in the way once; a fresh one is left to whoever holds it', async () => {
  history(2)
  await fetch()
  const lock = join(dir, 'refs/heads/main.lock')
  history(1)
  writeFileSync(lock, '')
  await expect(fetch()).rejects.toThrow('git fetch failed')
  expect(existsSync(lock)).toBe(true)
  const longAgo = new Date(Date.now() - 3_600_000)
  utimesSync(lock, longAgo, longAgo)
  await expect(fetch()).rejects.toThrow('git fetch failed')
  await fetch()
  expect(await commits()).toBe(3)
})

test('the packs of many pushes are put together', async () => {
  history(1)
  await fetch()
  // Else git keeps the objects of a small push by themselves.
  await runGit(['config', 'fetch.unpackLimit', '1'], { dir })
  const packs = () => readdirSync(join(dir, 'objects/pack')).filter((name) => name.endsWith('.pack')).length
  for (let push = 0; push < 55; push++) {
    history(1)
    await fetch()
    expect(packs()).toBeLessThanOrEqual(51)
  }
  expect(packs()).toBeLessThan(20)
  expect(await commits()).toBe(56)
}, 60_000)

import { spawnSync } from 'node:child_process'
import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { startApp } from './app-harness.js'

const FIXTURE = join(import.meta.dirname, '../../test-data/data-folder-before-the-house.tar.gz')

test('a data folder of an earlier version opens, gives the same tables from its journal, and goes on', async () => {
  const dataDir = mkdtempSync(join(tmpdir(), 'dystracer-test-'))
  expect(spawnSync('tar', ['-xzf', FIXTURE, '-C', dataDir]).status).toBe(0)
  const app = await startApp({ dataDir })
  try {
    expect(verifyTables({ db: app.ctx.db, dataDir })).toEqual([])
    const headers = { authorization: `Bearer ${app.token('admin')}` }
    const read = async (path: string) => (await app.call(`/api/v1${path}`, { headers })).body
    expect((await read('/items?filter=project=EMB')).rows.map((row: { key: string }) => row.key).sort()).toEqual([
      'EMB-1',
      'EMB-2',
      'EMB-3',
      'EMB-4',
      'EMB-5',
    ])
    expect(await read('/items/EMB-2')).toMatchObject({ mergedInto: 'EMB-3', dueOn: '2026-12-24', milestone: 'winter' })
    expect((await read('/items/EMB-1/history')).rows.map((row: { kind: string }) => row.kind)).toContain('comment-added')
    expect((await read('/faults/F-1')).occurrences).toBe(3)
    const made = await app.call('/api/v1/items', { method: 'POST', headers, body: { title: 'Logged by this version', project: 'EMB' } })
    expect(made.body.key).toBe('EMB-6')
    expect(verifyTables({ db: app.ctx.db, dataDir })).toEqual([])
  } finally {
    await app.stop()
  }
})

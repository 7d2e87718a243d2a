import { afterEach, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { startApp, type App } from './app-harness.js'

let app: App
afterEach(() => app.stop())

/** Rafe has open work, a component and weeks of duty; what he has done is done. */
async function begin() {
  app = await startApp()
  const ines = await app.asks('ines')
  const rafe = await app.asks('rafe')
  const log = async (title: string) => (await rafe('/items', { method: 'POST', body: { title, ownerId: 'rafe' } })).body.key as string
  const open = [await log('Lid sticks'), await log('Vent whistles')]
  const done = await log('Door creaks')
  await ines(`/items/${done}/reject`, { method: 'POST', body: { disposition: 'works-as-required', words: 'It does' } })
  await ines('/projects/EMB/components', { method: 'POST', body: { name: 'lid', keeperId: 'rafe' } })
  const leave = (by: typeof ines, body: object, person = 'rafe') => by(`/projects/EMB/people/${person}/leaving`, { method: 'POST', body })
  return { ines, rafe, teo: await app.asks('teo'), open, done, leave }
}

test('open items and components go over in one step; what is done keeps its owner, and history the name', async () => {
  const { ines, rafe, open, done, leave } = await begin()
  expect((await leave(ines, { handOverTo: 'ines' })).body).toEqual({ items: 2, components: 1, weeks: 0 })
  for (const key of open) expect((await ines(`/items/${key}`)).body.ownerId).toBe('ines')
  expect((await ines(`/items/${done}`)).body).toMatchObject({ ownerId: 'rafe', reporterId: 'rafe' })
  expect((await ines('/me')).body.people).toContainEqual(
    expect.objectContaining({ personId: 'rafe', name: expect.any(String), role: null }),
  )
  expect((await rafe(`/items/${open[0]}`)).status).toBe(403)
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
})

test('an account is closed by an administrator: sessions, password and own tokens end; an invitation opens it again', async () => {
  const { ines, teo, rafe, leave } = await begin()
  await rafe('/me/tokens', { method: 'POST', body: { name: 'mine', scope: 'read', project: 'EMB' } })
  expect((await leave(ines, { handOverTo: null, closesAccount: true })).status).toBe(403)
  expect((await leave(teo, { handOverTo: null, closesAccount: true })).body.items).toBe(2)
  expect((await rafe('/me')).body.person ?? null).toBeNull()
  const signIn = () =>
    app.call('/api/v1/session', { method: 'POST', body: { email: 'rafe@emberwick.example', password: 'rafe-emberwick' } })
  expect((await signIn()).status).toBe(401)
  expect(app.ctx.db.prepare("SELECT 1 FROM access_token WHERE person_id = 'rafe'").get()).toBeUndefined()
  expect((await teo('/audit?kind=account-closed')).body.rows).toMatchObject([{ about: 'rafe', actor: 'person:teo' }])
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  const invited = await teo('/projects/EMB/people', {
    method: 'POST',
    body: { name: 'Rafe', email: 'rafe@emberwick.example', role: 'member' },
  })
  expect(invited.body).toMatchObject({ personId: 'rafe', link: expect.stringContaining('/sign-up/') })
})

test('nobody takes out themselves, the last administrator, or a stranger; who takes over belongs to the project', async () => {
  const { ines, teo, leave } = await begin()
  expect((await leave(teo, { handOverTo: null }, 'teo')).status).toBe(409)
  expect((await leave(ines, { handOverTo: null }, 'teo')).status).toBe(403)
  expect((await leave(ines, { handOverTo: null }, 'nobody')).status).toBe(404)
  expect((await leave(ines, { handOverTo: 'nobody' })).body.fields.handOverTo).toContain('no member of EMB')
  expect((await ines('/me')).body.people).toContainEqual(expect.objectContaining({ personId: 'rafe', role: 'member' }))
})

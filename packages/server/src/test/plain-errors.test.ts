import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { startApp, until, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
beforeAll(async () => {
  app = await startApp()
  ines = await app.asks('ines')
})
afterAll(() => app.stop())

const send = (
  body: unknown,
  { scope = 'telemetry', limits = {}, raw }: { scope?: 'telemetry' | 'evidence'; limits?: object; raw?: string } = {},
) =>
  app.call('/receive/errors', {
    method: 'POST',
    headers: { authorization: `Bearer ${app.token(scope, limits)}`, 'content-type': 'application/json' },
    ...(raw === undefined ? { body } : { raw }),
  })
const ERROR = {
  type: 'RangeError',
  message: 'kiln 7 has no reading',
  stacktrace: 'RangeError: kiln 7 has no reading\n    at read (/srv/kiln/src/probe.js:5:31)',
}
const found = async (q: string) => (await ines(`/faults?q=${q}`)).body.rows

describe('errors as plain JSON', () => {
  test('become occurrences like those of an SDK: grouped with them, people under other names, sent again counted once', async () => {
    const at = new Date(app.clock.nowMs).toISOString()
    const report = {
      service: 'kiln',
      release: '4.1.3',
      errors: [
        { ...ERROR, at, person: 'odile@emberwick.example', attributes: { studio: 'Quayside', shelf: 3, isHot: true } },
        { ...ERROR, at, message: 'kiln 9 has no reading', stacktrace: ERROR.stacktrace.replace('7', '9') },
      ],
    }
    expect(await send(report)).toMatchObject({ status: 202, body: { taken: 2, refused: 0 } })
    expect((await send(report)).status).toBe(202)
    await until('they are one fault', async () => (await found('reading'))[0]?.occurrences === 2)
    const [fault] = await found('reading')
    expect(fault).toMatchObject({
      service: 'kiln',
      environments: ['production'],
      releases: ['4.1.3'],
      peopleHit: 1,
      place: 'read@probe.js',
    })
    const { rows } = (await ines(`/faults/${fault.fault}/occurrences`)).body
    const texts = JSON.stringify(
      await Promise.all(
        rows.map(async (row: { occurrenceId: number }) => (await ines(`/faults/${fault.fault}/occurrences/${row.occurrenceId}`)).body),
      ),
    )
    expect(texts).toContain('Quayside')
    expect(texts).not.toContain('odile')
  })

  test('without a time happened when they came, and tell the release that has them', async () => {
    await send({
      service: 'kiln',
      release: '4.2.0',
      environment: 'staging',
      errors: [{ message: 'no time was told' }, { message: 'no time was told' }],
    })
    await until('both are counted', async () => (await found('told'))[0]?.occurrences === 2)
    expect((await found('told'))[0]).toMatchObject({ releases: ['4.2.0'], environments: ['staging'] })
  })

  test('without a stack, a type or a time are still told apart by what they say', async () => {
    expect(
      (await send({ service: 'night-job', errors: [{ message: 'no disk left' }, { message: 'clock is slow', severity: 'warn' }] })).status,
    ).toBe(202)
    await until('both are there', async () => (await found('night-job')).length === 2)
    expect((await found('disk')).map((row: { type: string }) => row.type)).toEqual(['Error'])
  })

  test('that are none are refused with what is wrong, by field; a token for something else sends none', async () => {
    expect(await send({ service: 'kiln', errors: [{ type: 'E' }] })).toMatchObject({
      status: 422,
      body: { fields: { 'errors.0.message': expect.any(String) } },
    })
    expect((await send({ service: 'kiln', errors: [], extra: 1 })).status).toBe(422)
    expect(await send(null, { raw: '{"service":' })).toMatchObject({ status: 400, body: { code: 'malformed-body' } })
    expect((await send({ service: 'kiln', errors: [ERROR] }, { scope: 'evidence' })).status).toBe(403)
    expect(await send({ service: 'kiln', errors: [ERROR] }, { limits: { services: ['vault'] } })).toMatchObject({
      body: { taken: 0, refused: 1 },
    })
  })
})

import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { startApp, until, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
beforeAll(async () => {
  app = await startApp()
  ines = await app.asks('ines')
})
afterAll(() => app.stop())

const text = (key: string, value: string) => ({ key, value: { stringValue: value } })
/** Records of one program: plain work, or errors. */
async function send(service: string, records: { attributes: object[]; error?: string }[]): Promise<void> {
  const answer = await app.call('/otlp/v1/logs', {
    method: 'POST',
    headers: { authorization: `Bearer ${app.token('telemetry')}` },
    body: {
      resourceLogs: [
        {
          resource: {
            attributes: [
              text('service.name', service),
              text('service.version', '1.0.0'),
              text('deployment.environment.name', 'production'),
            ],
          },
          scopeLogs: [
            {
              logRecords: records.map(({ attributes, error }, at) => ({
                timeUnixNano: `${app.clock.nowMs + at}000000`,
                severityNumber: error ? 17 : 9,
                body: { stringValue: error ?? 'fired' },
                attributes: [...attributes, ...(error ? [text('exception.type', 'RangeError'), text('exception.message', error)] : [])],
              })),
            },
          ],
        },
      ],
    },
  })
  expect(answer.status).toBe(200)
}
const unusualOf = async (q: string) => {
  let fault = ''
  await until('it is there', async () => {
    fault = (await ines(`/faults?q=${q}`)).body.rows[0]?.fault ?? ''
    return fault !== ''
  })
  return (await ines(`/faults/${fault}/unusual`)).body
}

test('what all occurrences have and little of the work has stands out; what is as elsewhere does not; people are not named', async () => {
  const work = Array.from({ length: 500 }, (_, at) => ({
    attributes: [
      text('firmware', at % 12 === 0 ? '2.1' : '2.0'),
      text('studio', at % 2 === 0 ? 'Quayside' : 'Old Mill'),
      text('contact', `m${at}@emberwick.example`),
    ],
  }))
  await send('kiln', work)
  const errors = Array.from({ length: 20 }, (_, at) => ({
    error: 'no reading',
    attributes: [text('firmware', '2.1'), text('studio', at % 2 === 0 ? 'Quayside' : 'Old Mill'), text('request', `r${at}`)],
  }))
  await send('kiln', errors)
  const unusual = await unusualOf('reading')
  expect(unusual).toMatchObject({
    looked: 20,
    against: 'traffic',
    rows: [{ attribute: 'firmware', value: '2.1', own: 20, ownOf: 20, base: 42, baseOf: 500 }],
  })
  expect(unusual.rows).toHaveLength(1)
  expect(unusual.rows[0].from).toBeGreaterThan(5)
  const stored = JSON.stringify(app.ctx.volume.prepare('SELECT * FROM traffic_value').all())
  expect(stored).not.toContain('emberwick.example')
  // Many values of one attribute are counted as one beyond the first forty.
  expect(app.ctx.volume.prepare(`SELECT count(*) FROM traffic_value WHERE attribute = 'contact'`).pluck().get()).toBeLessThanOrEqual(41)
})

test('a program that tells of no work is held against its other faults', async () => {
  const errors = (error: string, firmware: string) =>
    Array.from({ length: 12 }, () => ({ error, attributes: [text('firmware', firmware)] }))
  await send('vault', [...errors('door stuck', '3.0'), ...errors('lamp out', '2.0'), ...errors('lamp dim', '2.0')])
  expect(await unusualOf('stuck')).toMatchObject({ against: 'other-faults', rows: [{ attribute: 'firmware', value: '3.0', base: 0 }] })
})

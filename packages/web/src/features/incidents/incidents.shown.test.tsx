import { describe, expect, test } from '@jest/globals'
import type { IncidentDetail } from '@dystracer/core/incidents/wire'
import type { ReleaseBoard } from '@dystracer/core/releases/wire'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { aDetail } from '#shared/test/an-item'
import { show, type Answers } from '#shared/test/shown'
import { IncidentPane } from './IncidentPane'
import { IncidentsPane } from './IncidentsPane'
import { fromLocalTime, lasting, toLocalTime } from '#shared/lib/instants'

const AT_MS = new Date('2026-11-21T21:04').getTime()
const MINUTE_MS = 60_000
const anIncident = (given: Partial<IncidentDetail> = {}): IncidentDetail => ({
  project: 'EMB',
  number: 3,
  title: 'Panels stay dark',
  severity: 2,
  service: 'kiln',
  environment: 'production',
  startedAtMs: AT_MS,
  overAtMs: null,
  leadId: 'rafe',
  cause: '',
  openedBy: 'person:ines',
  followUps: 1,
  openFollowUps: 1,
  items: [
    { key: 'EMB-4', title: 'Probe answers nothing', role: 'cause', isOpen: false },
    { key: 'EMB-9', title: 'Watch the panels', role: 'follow-up', isOpen: true },
  ],
  releases: [{ release: 'kiln@1.1.0', fromMs: AT_MS - 60 * MINUTE_MS, toMs: null }],
  requirements: ['SAF-3'],
  faults: [{ fault: 'F-7', title: 'TypeError: no probe', count: 12 }],
  entries: [
    { kind: 'deployment', atMs: AT_MS - 60 * MINUTE_MS, about: 'kiln@1.1.0', environment: 'production', state: 'running' },
    { kind: 'merge', atMs: AT_MS - 50 * MINUTE_MS, about: 'kiln/12', title: 'Draw faster' },
    { kind: 'fault', atMs: AT_MS - MINUTE_MS, about: 'F-7', title: 'TypeError: no probe' },
    { kind: 'began', atMs: AT_MS },
    { kind: 'note', atMs: AT_MS + 9 * MINUTE_MS, noteId: 'n1', text: 'Two studios call', by: 'person:rafe' },
  ],
  ...given,
})
const board: ReleaseBoard = {
  hasDeployer: false,
  environments: [
    { environment: 'bench', kind: 'test', needsApproval: false, position: 1 },
    { environment: 'live', kind: 'production', needsApproval: false, position: 2 },
  ],
  services: [{ service: 'kiln', repository: 'kiln', releases: [], deployments: [], runs: [], lastHeardAtMs: null, drift: [] }],
}
const answers = (incident: IncidentDetail, given: Answers = {}): Answers => ({
  readMe: () => aMe(),
  readIncident: () => incident,
  ...given,
})
const shown = (incident: IncidentDetail, given: Answers = {}) =>
  show(<IncidentPane id="EMB/3" />, { answers: answers(incident, given), at: '/incidents/incident~EMB,3' })

describe('an incident', () => {
  test('says what ran and failed, what was changed before, and who says what', async () => {
    const { findByText, getByRole, getByText, container } = shown(anIncident())
    await findByText('It began')
    for (const name of ['kiln@1.1.0', 'F-7', 'SAF-3', 'EMB-4']) expect(container.textContent).toContain(name)
    getByText('12 times')
    expect(getByRole('region', { name: 'What happened when' }).textContent).toMatch(
      /20:04.*kiln@1\.1\.0 went to production.*merged: Draw faster.*first seen.*It began.*21:13Two studios call · Rafe Lindqvist/s,
    )
  })

  test('is over by one click, and goes on by another', async () => {
    const first = shown(anIncident(), { endIncident: () => anIncident({ overAtMs: AT_MS }) })
    const beganAtMs = Date.now()
    await first.user.click(await first.findByRole('button', { name: 'It is over' }))
    const [said] = first.bodiesOf('endIncident') as { overAtMs: number }[]
    expect(said?.overAtMs).toBeGreaterThanOrEqual(beganAtMs)
    first.unmount()
    const second = shown(anIncident({ overAtMs: AT_MS + 46 * MINUTE_MS }), { endIncident: () => anIncident() })
    await second.findByText('Over after 46 min')
    await second.user.click(second.getByRole('button', { name: 'It goes on' }))
    expect(second.bodiesOf('endIncident')).toEqual([{ overAtMs: null }])
  })

  test('takes notes, now or as of a time, and takes them back; a refusal keeps what was typed', async () => {
    let isRefused = true
    const { user, findByLabelText, getByRole, getByLabelText, findByText, bodiesOf, asked } = shown(anIncident(), {
      noteIncident: () => (isRefused ? { refused: 'not-allowed', detail: 'Not you.' } : anIncident()),
      removeIncidentNote: () => ({}),
    })
    const field = (await findByLabelText('What was seen or done')) as HTMLInputElement
    await user.type(field, 'Started again')
    await user.click(getByRole('button', { name: 'Note it' }))
    await findByText('Not you.')
    expect(field.value).toBe('Started again')
    isRefused = false
    await user.type(getByLabelText('When; left empty, now'), '2026-11-21T21:30')
    await user.click(getByRole('button', { name: 'Note it' }))
    await waitFor(() => expect(field.value).toBe(''))
    expect(bodiesOf('noteIncident').at(-1)).toEqual({ text: 'Started again', happenedAtMs: new Date('2026-11-21T21:30').getTime() })
    await user.click(getByRole('button', { name: 'Take back the note of 21:13' }))
    expect(asked.find((call) => call.name === 'removeIncidentNote')?.params).toMatchObject({ number: '3', note: 'n1' })
  })

  test('has what is to be done after it logged and tied, an item tied by key, and one taken away', async () => {
    const { user, findByRole, getByLabelText, getByRole, asked, bodiesOf } = shown(anIncident(), {
      logItem: ({ body }) => aDetail({ key: 'EMB-12', title: body.title }),
      tieIncidentItem: () => anIncident(),
    })
    await user.type(await findByRole('textbox', { name: 'What is to be done after it' }), 'Alarm on dark panels')
    await user.click(getByRole('button', { name: 'Log a follow-up' }))
    await waitFor(() => expect(bodiesOf('tieIncidentItem')).toEqual([{ role: 'follow-up' }]))
    expect(bodiesOf('logItem')[0]).toMatchObject({ type: 'task', title: 'Alarm on dark panels' })
    await user.selectOptions(getByLabelText('What it is to the incident'), 'report')
    await user.type(getByLabelText('Key of an item'), 'emb-7')
    await user.click(getByRole('button', { name: 'Tie it' }))
    await user.click(getByRole('button', { name: 'Take away EMB-4' }))
    const ties = asked.filter((call) => call.name === 'tieIncidentItem')
    expect(ties.map((call) => [call.params.key, call.body])).toEqual([
      ['EMB-12', { role: 'follow-up' }],
      ['EMB-7', { role: 'report' }],
      ['EMB-4', { role: null }],
    ])
  })

  test('is changed in a form that holds what stands, a service that is no more among it', async () => {
    const { user, findByRole, getByLabelText, getByRole, bodiesOf } = shown(anIncident({ service: 'old-kiln' }), {
      readReleaseBoard: () => board,
      changeIncident: () => anIncident(),
    })
    await user.click(await findByRole('button', { name: 'change…' }))
    await findByRole('form', { name: 'Incident 3' })
    expect((getByLabelText('Service') as HTMLSelectElement).value).toBe('old-kiln')
    await user.selectOptions(getByLabelText('How bad'), '1')
    await user.type(getByLabelText(/Why it came about/), 'A probe')
    await user.click(getByRole('button', { name: 'Say it' }))
    const { title, service, environment, startedAtMs, leadId } = anIncident({ service: 'old-kiln' })
    expect(bodiesOf('changeIncident')).toEqual([{ title, service, environment, startedAtMs, leadId, severity: 1, cause: 'A probe' }])
  })

  test('is read without its controls by whoever may only read', async () => {
    const wren = { personId: 'wren', name: 'Wren Abara', initials: 'WA', role: 'reader' } as const
    const { findByText, queryByRole } = shown(anIncident(), { readMe: () => aMe({ person: wren }) })
    await findByText('It began')
    for (const name of ['It is over', 'change…', 'Note it', 'Tie it']) expect(queryByRole('button', { name })).toBeNull()
  })
})

describe('the list of incidents', () => {
  test('is empty with words on what to do, and opens one with what the form says', async () => {
    const { user, findByText, findByRole, getByRole, getByLabelText, bodiesOf, address } = show(<IncidentsPane />, {
      at: '/incidents',
      answers: {
        readMe: () => aMe(),
        listIncidents: () => ({ rows: [], nextCursor: null }),
        readReleaseBoard: () => board,
        openIncident: () => anIncident(),
      },
    })
    await findByText(/No incident yet/)
    await user.click(getByRole('button', { name: 'Open an incident…' }))
    await user.type(getByLabelText(/What people notice/), 'Panels stay dark')
    await findByRole('option', { name: 'kiln' })
    await user.selectOptions(getByLabelText('Service'), 'kiln')
    await user.selectOptions(getByLabelText('How bad'), '1')
    await user.click(getByRole('button', { name: 'Open it' }))
    await waitFor(() => expect(address()).toBe('/incidents/incident~EMB,3'))
    expect(bodiesOf('openIncident')).toEqual([
      expect.objectContaining({ title: 'Panels stay dark', severity: 1, service: 'kiln', environment: 'live', leadId: 'ines' }),
    ])
  })

  test('shows which go on, who leads, and what is left to do', async () => {
    const { items: _i, entries: _e, releases: _r, requirements: _q, faults: _f, project: _p, openedBy: _o, ...row } = anIncident()
    const { findByRole } = show(<IncidentsPane />, {
      at: '/incidents',
      answers: {
        readMe: () => aMe(),
        listIncidents: () => ({ rows: [row, { ...row, number: 2, overAtMs: AT_MS + 90 * MINUTE_MS, openFollowUps: 0 }], nextCursor: null }),
      },
    })
    const options = [...(await findByRole('listbox', { name: 'Incidents' })).querySelectorAll('[role=option]')]
    expect(options[0]?.textContent).toMatch(/Rafe Lindqvist leads · 1 of 1 to be done after it.*goes on for/)
    expect(options[1]?.textContent).toContain('took 1 h 30 min')
  })
})

test.each([
  [0, '0 min'],
  [59 * MINUTE_MS, '59 min'],
  [60 * MINUTE_MS, '1 h'],
  [200 * MINUTE_MS, '3 h 20 min'],
  [48 * 60 * MINUTE_MS, '2 d'],
  [52 * 60 * MINUTE_MS, '2 d 4 h'],
])('%d ms last %s', (durationMs, words) => {
  expect(lasting(durationMs)).toBe(words)
})

test('a time in a field is the reader’s own, and an empty field is none', () => {
  expect(fromLocalTime(toLocalTime(AT_MS))).toBe(AT_MS)
  expect(fromLocalTime('')).toBeNull()
})

import { afterEach, describe, expect, test } from '@jest/globals'
import type { PlaceGate } from '@dystracer/core/places/gates'
import { within } from '@testing-library/react'
import { toast, Toaster } from 'sonner'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { PassOver } from './PassOver'
import { PlaceGates } from './PlaceGates'

const SOAK: PlaceGate = { kind: 'soak', hours: 24, units: 100 }
const GATES: PlaceGate[] = [
  SOAK,
  { kind: 'severity', atLeast: 2 },
  { kind: 'agreed', people: 2, among: ['ines', 'rafe'] },
  { kind: 'window', days: [1, 5], from: '09:00', to: '16:00', timeZone: 'UTC' },
  { kind: 'freeze', from: '2026-12-20', to: '2027-01-03', why: 'studios are closed', timeZone: 'UTC' },
  { kind: 'check', words: 'the limiter opens' },
]
const gates = (given: PlaceGate[], { canEdit = true, ...answers }: Answers & { canEdit?: boolean } = {}) =>
  show(
    <>
      <PlaceGates environments={['staging', 'production']} canEdit={canEdit} />
      <Toaster />
    </>,
    {
      answers: {
        readMe: () => aMe(),
        listPlaceGates: () => ({ rows: [{ environment: 'production', gates: given }] }),
        setPlaceGates: () => ({ rows: [] }),
        ...answers,
      },
      at: '/settings',
    },
  )
type Shown = ReturnType<typeof gates>
const begin = async ({ user, findByRole }: Shown, kind: string) => {
  await user.click(await findByRole('button', { name: 'Another gate before production' }))
  const form = within(await findByRole('form', { name: 'Gate' }))
  await user.selectOptions(form.getByRole('combobox'), kind)
  return form
}
afterEach(() => void toast.dismiss())

describe('what has to hold before a release comes to a place', () => {
  test('reads as sentences; who may not set it up changes nothing', async () => {
    const { findByRole, queryByRole, getByText } = gates(GATES, { canEdit: false })
    const list = await findByRole('list', { name: 'Gates of production' })
    expect(
      within(list)
        .getAllByRole('listitem')
        .map((row) => row.textContent),
    ).toEqual([
      'ran 24 h in the place before it, did 100 pieces of work there, failed in no new way',
      'nothing of severity 1 to 2 is open',
      expect.stringMatching(/^2 of .*, .* agreed, none of whom wrote part of it$/),
      'Mon, Fri from 09:00 to 16:00, UTC',
      'not from 2026-12-20 to 2027-01-03: studios are closed',
      'somebody looked: the limiter opens',
    ])
    getByText('Nothing further.')
    expect(queryByRole('button')).toBeNull()
  })

  test('is taken out one by one', async () => {
    const { user, findByRole, findByText, bodiesOf } = gates(GATES.slice(0, 2))
    await user.click(await findByRole('button', { name: /^Remove from production: nothing of severity/ }))
    await findByText('One gate less before production')
    expect(bodiesOf('setPlaceGates')).toEqual([{ gates: [SOAK] }])
  })

  test('begins with what is not asked for yet, and asks for just what belongs to it', async () => {
    const shown = gates([SOAK])
    await shown.user.click(await shown.findByRole('button', { name: 'Another gate before production' }))
    const form = within(await shown.findByRole('form', { name: 'Gate' }))
    expect((form.getByRole('combobox') as HTMLSelectElement).value).toBe('build')
    expect(form.queryByRole('spinbutton')).toBeNull()
    await shown.user.click(form.getByRole('button', { name: 'Set the gate' }))
    await shown.findByText('One gate more before production')
    expect(shown.bodiesOf('setPlaceGates')).toEqual([{ gates: [SOAK, { kind: 'build' }] }])
  })

  test('asks for people, of whom some may be named', async () => {
    const shown = gates([])
    const form = await begin(shown, 'agreed')
    await shown.user.clear(form.getByLabelText('How many'))
    await shown.user.type(form.getByLabelText('How many'), '1')
    await shown.user.click(form.getByRole('checkbox', { name: 'Rafe Lindqvist' }))
    await shown.user.click(form.getByRole('button', { name: 'Set the gate' }))
    await shown.findByText('One gate more before production')
    expect(shown.bodiesOf('setPlaceGates')).toEqual([{ gates: [{ kind: 'agreed', people: 1, among: ['rafe'] }] }])
  })

  test('opens on days and at times of whoever sets it', async () => {
    const shown = gates([])
    const form = await begin(shown, 'window')
    await shown.user.click(form.getByRole('checkbox', { name: 'Thu' }))
    await shown.user.click(form.getByRole('button', { name: 'Set the gate' }))
    await shown.findByText('One gate more before production')
    const { timeZone } = Intl.DateTimeFormat().resolvedOptions()
    expect(shown.bodiesOf('setPlaceGates')).toEqual([
      { gates: [{ kind: 'window', days: [1, 2, 3], from: '09:00', to: '16:00', timeZone }] },
    ])
  })

  test.each([
    ['soak', { kind: 'soak', hours: 24, units: 0 }],
    ['severity', { kind: 'severity', atLeast: 1 }],
  ] as const)('of kind %s has a sensible beginning', async (kind, gate) => {
    const shown = gates([])
    const form = await begin(shown, kind)
    await shown.user.click(form.getByRole('button', { name: 'Set the gate' }))
    await shown.findByText('One gate more before production')
    expect(shown.bodiesOf('setPlaceGates')).toEqual([{ gates: [gate] }])
  })

  test('that contradicts itself is refused, and what was typed stays', async () => {
    const shown = gates([], { setPlaceGates: () => ({ refused: 'invalid-input', fields: { gates: '“doors” stands there twice' } }) })
    const form = await begin(shown, 'check')
    await shown.user.type(form.getByRole('textbox'), 'doors')
    await shown.user.click(form.getByRole('button', { name: 'Set the gate' }))
    await shown.findByText('“doors” stands there twice')
    expect((form.getByRole('textbox') as HTMLInputElement).value).toBe('doors')
  })
})

test('the way past gates names what does not hold, and needs a reason', async () => {
  const { user, findByRole, findByText, getByText, bodiesOf } = show(
    <>
      <PassOver deploymentId="d1" what="4.2.0 to production" unmet={['frozen until 2027-01-03']} />
      <Toaster />
    </>,
    { answers: { readMe: () => aMe(), passOverGates: () => ({ environments: [], hasDeployer: false, services: [] }) }, at: '/releases' },
  )
  await user.click(await findByRole('button', { name: 'let it out all the same…' }))
  getByText('frozen until 2027-01-03')
  const form = within(await findByRole('form', { name: 'Let it out' }))
  await user.click(form.getByRole('button', { name: 'Let it out' }))
  expect(bodiesOf('passOverGates')).toEqual([])
  await user.type(form.getByRole('textbox'), 'a kiln burns')
  await user.click(form.getByRole('button', { name: 'Let it out' }))
  await findByText('On its way: 4.2.0 to production')
  expect(bodiesOf('passOverGates')).toEqual([{ why: 'a kiln burns' }])
})

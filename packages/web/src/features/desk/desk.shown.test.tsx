import { afterEach, describe, expect, test } from '@jest/globals'
import type { Desk } from '@dystracer/core/desk/wire'
import { within } from '@testing-library/react'
import { toast, Toaster } from 'sonner'
import { aMe } from '#shared/test/a-me'
import { anItem } from '#shared/test/an-item'
import { show, type Answers } from '#shared/test/shown'
import { DeskPane } from './DeskPane'

const AT_MS = 1_770_000_000_000
type Waiting = Desk['waiting'][number]
const waits = (given: Partial<Waiting> = {}): Waiting => ({
  why: 'fix',
  ref: { kind: 'item', id: 'EMB-4' },
  title: 'Ramps too far',
  detail: 'accepted, nobody has started',
  atMs: AT_MS,
  item: null,
  ...given,
})
const aDesk = (given: Partial<Desk> = {}): Desk => ({ missing: [], waiting: [], working: [], unexplained: 0, ...given })
const desk = (given: Partial<Desk>, answers: Answers = {}) =>
  show(
    <>
      <DeskPane />
      <Toaster />
    </>,
    {
      answers: { readMe: () => aMe(), readDesk: () => aDesk(given), readHand: () => ({ current: null, parked: [] }), ...answers },
      at: '/desk',
    },
  )
afterEach(() => void toast.dismiss())

describe('the desk', () => {
  test('says why each thing waits, by whom it is known; what is under way stands behind', async () => {
    const { findByRole, getByText } = desk({
      waiting: [
        waits({ why: 'came-back', ref: { kind: 'item', id: 'EMB-9' }, title: 'Cools too fast', detail: 'F-3 was seen in 4.2.0' }),
        waits({ why: 'approve', ref: { kind: 'environment', id: 'production' }, title: 'kiln 4.2.0', detail: 'wants to go to production' }),
        waits({ why: 'make', ref: { kind: 'environment', id: 't1' }, title: 'October is ready', detail: '2 releases to make' }),
      ],
      working: [{ item: anItem({ key: 'EMB-7', title: 'Bound the ramp' }), sinceMs: AT_MS }],
    })
    const list = await findByRole('listbox', { name: 'Desk' })
    const rows = within(list)
      .getAllByRole('option')
      .map((row) => row.textContent)
    expect(rows[0]).toMatch(/^came backCools too fastEMB-9 · F-3 was seen in 4.2.0/)
    expect(rows[1]).toMatch(/^approvekiln 4.2.0wants to go to production/)
    expect(rows[2]).toMatch(/^makeOctober is ready2 releases to make/)
    expect(rows[3]).toMatch(/^EMB-7Bound the rampin work for/)
    getByText('Waits for a hand')
    getByText('Under way')
  })

  test.each([
    ['a decision in Triage', waits({ why: 'decide' }), 'decision~EMB-4'],
    ['an item', waits({ why: 'verify' }), 'item~EMB-4'],
    ['where releases run', waits({ why: 'approve', ref: { kind: 'environment', id: 'production' } }), 'releases'],
    ['a train', waits({ why: 'make', ref: { kind: 'environment', id: 'EMB/t1' } }), 'train~EMB,t1'],
    ['a pull request', waits({ why: 'review', ref: { kind: 'pull-request', id: 'kiln/7' } }), 'pull-request~kiln,7'],
  ] as const)('opens %s beside it', async (_what, row, segment) => {
    const { user, findByRole, address } = desk({ waiting: [row] })
    await user.click(await findByRole('option'))
    expect(address()).toContain(segment)
  })

  test('is calm where nothing waits', async () => {
    const { findByText, queryByRole } = desk({})
    await findByText(/Nothing waits for you/)
    expect(queryByRole('listbox')).toBeNull()
    expect(queryByRole('region', { name: 'First steps' })).toBeNull()
  })

  test('leads to the commits of the week that no item asked for', async () => {
    const { user, findByRole, findByText, address } = desk({ unexplained: 3 })
    await findByText(/3 commits of the last week came to the main line without an item/)
    await user.click(await findByRole('button', { name: 'say what they are for' }))
    expect(address()).toContain('code~unexplained')
  })

  test('names the first steps of a project that nobody took yet, each with where it is taken', async () => {
    const { findByRole } = desk({ missing: ['code', 'people', 'item'] })
    const steps = within(await findByRole('region', { name: 'First steps' }))
    expect(steps.getAllByRole('listitem')).toHaveLength(3)
    expect(steps.getByRole('link', { name: 'Connect your code' }).getAttribute('href')).toBe('/code')
    expect(steps.getByRole('link', { name: 'Invite people' }).getAttribute('href')).toBe('/settings~people')
    steps.getByRole('button', { name: 'Log the first item' })
  })

  test('keeps what one has in hand above all, which is parked, booked or put down', async () => {
    const item = anItem({ key: 'EMB-7', title: 'Bound the ramp' })
    const held = { item, branch: null, sinceMs: AT_MS, workedMs: 5_700_000, offeredMinutes: 95 }
    const { findByRole } = desk({}, { readHand: () => ({ current: held, parked: [] }) })
    const hand = within(await findByRole('region', { name: 'In hand' }))
    hand.getByText(/Bound the ramp/)
    expect(hand.getAllByRole('button').length).toBeGreaterThan(1)
  })
})

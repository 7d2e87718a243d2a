import { afterEach, describe, expect, test } from '@jest/globals'
import type { ReleaseBoard } from '@dystracer/core/releases/wire'
import type { Train, TrainCar, TrainDetail } from '@dystracer/core/trains/wire'
import { waitFor, within } from '@testing-library/react'
import { toast, Toaster } from 'sonner'
import { aMe } from '#shared/test/a-me'
import { anItem } from '#shared/test/an-item'
import { show, type Answers } from '#shared/test/shown'
import { TrainPane } from './TrainPane'
import { Trains } from './Trains'

const AT_MS = 1_770_000_000_000
const aCar = (given: Partial<TrainCar> = {}): TrainCar => ({
  service: 'kiln',
  release: '4.2.0',
  isThere: true,
  withdrawnWhy: null,
  proposed: null,
  against: '4.1.3',
  runsIn: [],
  commits: 3,
  items: [anItem({ key: 'EMB-4', title: 'Ramps too far' })],
  more: 0,
  ...given,
})
const aTrain = (given: Partial<Train> = {}): Train => ({
  project: 'EMB',
  trainId: 't1',
  name: 'October',
  words: '',
  leavesOn: null,
  waitsFor: '',
  makes: false,
  by: 'person:ines',
  atMs: AT_MS,
  cars: [
    { service: 'kiln', release: '4.2.0' },
    { service: 'planner', release: null },
  ],
  standing: 'planned',
  readyAtMs: null,
  heldWhy: null,
  calledOff: null,
  ...given,
})
const aDetail = (given: Partial<TrainDetail> = {}): TrainDetail => ({
  ...aTrain(),
  cars: [
    aCar(),
    aCar({ service: 'planner', release: null, isThere: false, proposed: '2.5.0', against: '2.4.0', items: [], commits: 1 }),
    aCar({ service: 'glaze', release: '1.7.0', commits: 0, items: [] }),
  ],
  waits: null,
  ...given,
})
const aBoard = (): ReleaseBoard => ({
  hasDeployer: true,
  environments: [
    { environment: 'staging', kind: 'staging', needsApproval: false, position: 1 },
    { environment: 'production', kind: 'production', needsApproval: true, position: 2 },
  ],
  services: ['kiln', 'planner', 'glaze'].map((service) => ({
    service,
    repository: service,
    releases: [
      {
        service,
        release: '4.2.0',
        repository: service,
        tag: 'v4.2.0',
        sha: 'a'.repeat(40),
        atMs: AT_MS,
        isRewritten: false,
        withdrawn: null,
        runsIn: [],
        fixes: 1,
      },
    ],
    deployments: [],
    runs: [],
    lastHeardAtMs: null,
    drift: [],
  })),
})
const rafe = aMe({ person: { personId: 'rafe', name: 'Rafe Lindqvist', initials: 'RL', role: 'member' } })
const answers = (given: Answers = {}): Answers => ({ readMe: () => aMe(), readReleaseBoard: () => aBoard(), ...given })
const pane = (detail: TrainDetail, given: Answers = {}) =>
  show(
    <>
      <TrainPane id="EMB/t1" />
      <Toaster />
    </>,
    { answers: answers({ readTrain: () => detail, ...given }), at: '/releases/train~EMB,t1' },
  )
afterEach(() => void toast.dismiss())

describe('a train', () => {
  test('shows what each service brings, and makes the releases that are missing', async () => {
    const made = aDetail({ standing: 'made', cars: [aCar(), aCar({ service: 'planner', release: '2.5.0' })] })
    const { user, findByRole, findByText, bodiesOf, getByText } = pane(aDetail(), {
      makeTrainReleases: () => ({ train: made, refused: [] }),
    })
    await findByText('to be made, as 2.5.0')
    getByText('nothing new')
    await user.click(await findByRole('button', { name: '1 item, 3 changes in kiln' }))
    within(await findByRole('list', { name: 'Items of kiln' })).getByText('Ramps too far')
    await user.click(await findByRole('button', { name: 'Make the missing release' }))
    await findByText('Its releases are made')
    expect(bodiesOf('makeTrainReleases')).toHaveLength(1)
  })

  test('says for which service it was refused, and why', async () => {
    const { user, findByRole, findByText } = pane(aDetail(), {
      makeTrainReleases: () => ({ train: aDetail(), refused: [{ service: 'planner', why: 'The remote did not take v2.5.0.' }] }),
    })
    await user.click(await findByRole('button', { name: 'Make the missing release' }))
    await findByText('planner: The remote did not take v2.5.0.')
  })

  test('that is made is brought to one place after the other, or asked for there', async () => {
    const cars = [aCar({ runsIn: ['staging'] }), aCar({ service: 'planner', runsIn: ['staging'] })]
    const { user, findByRole, findByText, queryByRole, bodiesOf } = pane(aDetail({ standing: 'made', cars }), {
      sendTrain: () => ({ train: aDetail({ cars }), refused: [] }),
    })
    await user.click(await findByRole('button', { name: 'Ask for production' }))
    await findByText('It waits for an approval for production')
    expect(bodiesOf('sendTrain')).toEqual([{ environment: 'production', isTold: false }])
    // All of it runs there.
    expect(queryByRole('button', { name: 'Bring it to staging' })).toBeNull()
  })

  test('is said to run by whoever brought it there without a deployer', async () => {
    const { user, findByRole, findByText, queryByRole, bodiesOf } = pane(aDetail({ standing: 'made', cars: [aCar()] }), {
      readReleaseBoard: () => ({ ...aBoard(), hasDeployer: false }),
      sendTrain: () => ({ train: aDetail(), refused: [] }),
    })
    await user.click(await findByRole('button', { name: 'Say that it runs in staging' }))
    await findByText('It is said to run in staging')
    expect(bodiesOf('sendTrain')).toEqual([{ environment: 'staging', isTold: true }])
    expect(queryByRole('button', { name: 'Bring it to staging' })).toBeNull()
    // Where somebody has to approve, that can be asked for all the same.
    await findByRole('button', { name: 'Ask for production' })
  })

  test('offers nothing to whoever makes no releases but to bring it on', async () => {
    const { findByRole, queryByRole } = pane(aDetail({ cars: [aCar()] }), { readMe: () => rafe })
    await findByRole('button', { name: 'Bring it to staging' })
    for (const name of ['change…', 'Call it off']) expect(queryByRole('button', { name })).toBeNull()
  })

  test('says what it waits for, and what of it is not merged', async () => {
    const { findByRole, findByText } = pane(
      aDetail({
        waitsFor: 'milestone=4.2',
        makes: true,
        waits: { total: 7, open: 60, items: [anItem({ key: 'EMB-9', title: 'Cools too fast' })] },
      }),
    )
    const section = await findByRole('region', { name: 'What it waits for' })
    expect(section.textContent).toContain('milestone=4.2: 60 of 7 items not merged yet · then its releases are made by themselves')
    within(section).getByText('Cools too fast')
    await findByText('and 59 more')
  })

  test('that is held says why; withdrawn releases and tags that are gone are told', async () => {
    const { findByText, getByText } = pane(
      aDetail({
        heldWhy: 'kiln: The remote did not take v4.2.0.',
        cars: [aCar({ withdrawnWhy: 'burns' }), aCar({ service: 'planner', release: '2.5.0', isThere: false })],
      }),
    )
    await findByText(/Not all of its releases could be made by themselves. kiln: The remote/)
    expect(getByText('withdrawn').getAttribute('title')).toBe('burns')
    getByText('2.5.0, whose tag is gone')
  })

  test('is called off with the reason, and goes after all', async () => {
    const first = pane(aDetail(), { callTrainOff: () => aDetail() })
    await first.user.type(await first.findByRole('textbox', { name: 'Why it does not go' }), 'kilns are being lined')
    await first.user.click(first.getByRole('button', { name: 'Call it off' }))
    expect(first.bodiesOf('callTrainOff')).toEqual([{ isCalledOff: true, words: 'kilns are being lined' }])
    first.unmount()
    const { user, findByRole, bodiesOf, queryByRole } = pane(
      aDetail({ standing: 'called-off', calledOff: { words: 'kilns are being lined', by: 'person:ines', atMs: AT_MS } }),
      { callTrainOff: () => aDetail() },
    )
    await user.click(await findByRole('button', { name: 'let it go after all' }))
    expect(bodiesOf('callTrainOff')).toMatchObject([{ isCalledOff: false }])
    expect(queryByRole('button', { name: 'change…' })).toBeNull()
  })

  test('is changed: services in another order, one more, one less, another release', async () => {
    const { user, findByRole, bodiesOf } = pane(aDetail({ leavesOn: '2026-10-30' }), { changeTrain: () => aDetail() })
    await user.click(await findByRole('button', { name: 'change…' }))
    const form = within(await findByRole('form', { name: 'Train' }))
    await user.click(form.getByRole('button', { name: 'planner earlier' }))
    await user.selectOptions(form.getByRole('combobox', { name: 'Release of planner' }), '4.2.0')
    await user.click(form.getByRole('button', { name: 'take out glaze' }))
    await user.click(form.getByRole('button', { name: 'with glaze' }))
    await user.click(form.getByRole('button', { name: 'take out kiln' }))
    await user.type(form.getByLabelText('Waits until all of these are merged'), 'milestone=4.2')
    await user.click(form.getByRole('button', { name: 'Keep it' }))
    expect(bodiesOf('changeTrain')).toEqual([
      {
        name: 'October',
        words: '',
        leavesOn: '2026-10-30',
        waitsFor: 'milestone=4.2',
        makes: false,
        cars: [
          { service: 'planner', release: '4.2.0' },
          { service: 'glaze', release: null },
        ],
      },
    ])
  })
})

test('a service in which nothing changed goes with its newest release', async () => {
  const { findByText } = pane(
    aDetail({ cars: [aCar({ release: null, isThere: false, proposed: '4.2.1', against: '4.2.0', commits: 0, items: [] })] }),
  )
  await findByText('goes with its newest, 4.2.0')
})

describe('the trains of a project', () => {
  const list = (rows: Train[], given: Answers = {}) =>
    show(<Trains />, { answers: answers({ listTrains: () => ({ rows }), ...given }), at: '/releases' })

  test('stand with those that are to come first; earlier ones are asked for', async () => {
    const there = Array.from({ length: 5 }, (_, at) => aTrain({ trainId: `old${at}`, name: `Earlier ${at}`, standing: 'there' }))
    const { user, findByRole, address } = list([...there, aTrain({ leavesOn: '2026-10-30', readyAtMs: AT_MS })])
    const names = () => rows().map((row) => row.querySelector('button')?.textContent)
    const section = await findByRole('list', { name: 'Trains' })
    const rows = () => within(section).getAllByRole('listitem')
    await waitFor(() => expect(names()).toEqual(['October', 'Earlier 0', 'Earlier 1', 'Earlier 2']))
    expect(rows()[0]?.textContent).toMatch(
      /October releases to make · ready since .* · leaves on 2026-10-30kiln 4.2.0, planner \(to be made\)/,
    )
    await user.click(await findByRole('button', { name: '2 earlier ones' }))
    expect(names()).toHaveLength(6)
    await user.click(within(section).getByRole('button', { name: 'October' }))
    expect(address()).toContain('train~EMB,t1')
  })

  test('are planned by those who make releases, and refused words stand at their field', async () => {
    const { user, findByRole, findByText, bodiesOf, address } = list([], {
      planTrain: ({ body }) => {
        return body.waitsFor === '' ? aDetail({ trainId: 't2' }) : { refused: 'invalid-input', fields: { waitsFor: 'Not understood' } }
      },
    })
    await user.click(await findByRole('button', { name: 'Plan a train…' }))
    const form = within(await findByRole('form', { name: 'Train' }))
    await user.type(form.getByRole('textbox', { name: /Its name/ }), 'October')
    await user.type(form.getByLabelText('Waits until all of these are merged'), 'x(')
    await user.click(form.getByRole('button', { name: 'Plan it' }))
    await findByText('Not understood')
    await user.clear(form.getByRole('textbox', { name: /Waits until/ }))
    await user.click(form.getByRole('button', { name: 'Plan it' }))
    await waitFor(() => expect(address()).toContain('train~EMB,t2'))
    expect(bodiesOf('planTrain').at(-1)).toMatchObject({
      name: 'October',
      cars: [
        { service: 'kiln', release: null },
        { service: 'planner', release: null },
      ],
    })
  })

  test('are nothing to look at where there are none and the reader plans none', async () => {
    const { container } = list([], { readMe: () => rafe })
    await waitFor(() => expect(container.textContent).toBe(''))
  })
})

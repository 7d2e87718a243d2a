import { expect, test } from '@jest/globals'
import { waitFor } from '@testing-library/react'
import type { Bisection } from '@dystracer/core/bisecting/wire'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { FindByBuilding } from './FindByBuilding'

const AT_MS = 1_770_000_000_000
const [GOOD, MIDDLE, BAD] = ['1', '2', '3'].map((digit) => digit.repeat(40)) as [string, string, string]
const TEST = { suite: 'limits', name: 'stays below 600' }
/** As a failure tells of it, with more than names it. */
const FAILED = { ...TEST, message: '650 is too hot', verifies: [] }
const aSearch = (given: Partial<Bisection> = {}): Bisection => ({
  bisectionId: 's1',
  repository: 'kiln',
  ...TEST,
  good: GOOD,
  bad: BAD,
  build: 9,
  by: 'ines',
  atMs: AT_MS,
  outcome: null,
  endedAtMs: null,
  told: [{ sha: MIDDLE, verdict: 'bad', build: 11 }],
  left: 4,
  steps: 2,
  building: { sha: GOOD, number: null },
  guilty: [],
  ...given,
})
const shown = (rows: Bisection[], answers: Answers = {}, canBegin = true) =>
  show(<FindByBuilding repository="kiln" build={9} test={FAILED} canBegin={canBegin} />, {
    answers: {
      readMe: () => aMe(),
      listBisections: () => ({ rows }),
      listWantedBuilds: () => ({ rows: [], machines: [] }),
      ...answers,
    },
  })

test('a search is begun by a click, for this test from this build', async () => {
  const { user, findByRole, bodiesOf } = shown([], { beginBisection: () => aSearch() })
  await user.click(await findByRole('button', { name: 'Find it by building' }))
  expect(bodiesOf('beginBisection')).toEqual([{ build: 9, ...TEST }])
})

test('nothing is offered where no build is known in which it passed', async () => {
  const { asked, queryByRole } = shown([], {}, false)
  await waitFor(() => expect(asked.map(({ name }) => name)).toEqual(expect.arrayContaining(['readMe', 'listBisections'])))
  expect(queryByRole('button')).toBeNull()
})

test('a search under way says how far it is and what it waits for, and can be stopped', async () => {
  const { user, findByText, findByRole, container, asked } = shown([aSearch()], {
    callOffBisection: () => aSearch({ outcome: 'called-off' }),
  })
  await findByText(/4 commits left, about 2 builds more/)
  await findByText(/No build machine asks for this repository now; it waits for one/)
  expect(container.textContent).toContain('2222222 fails')
  await user.click(await findByRole('button', { name: 'Stop searching' }))
  expect(asked.find(({ name }) => name === 'callOffBisection')?.params).toEqual({ repository: 'kiln', bisectionId: 's1' })
})

test('what runs for it is said with its build', async () => {
  const { findByRole, findByText } = shown([aSearch({ building: { sha: GOOD, number: 12 } })])
  await findByText(/runs, of 1111111/)
  expect((await findByRole('link', { name: 'build 12' })).getAttribute('href')).toContain('build~kiln,12')
})

test('what was found stands with its item; several where they cannot be told apart', async () => {
  const commit = { sha: BAD, subject: 'Heat to 650', author: 'Tam Adeyemi', atMs: AT_MS, items: ['EMB-7'] }
  const one = shown([aSearch({ outcome: 'found', endedAtMs: AT_MS, building: null, guilty: [commit] })])
  await one.findByText(/this commit broke it/)
  expect(one.container.textContent).toContain('3333333 Tam Adeyemi: Heat to 650 · for EMB-7')
  expect(one.queryByRole('button', { name: 'Stop searching' })).toBeNull()
  one.unmount()
  const more = shown([aSearch({ outcome: 'found', endedAtMs: AT_MS, building: null, guilty: [commit, { ...commit, sha: MIDDLE }] })])
  await more.findByText(/one of these broke it/)
})

test('one that was called off can be begun again; one of another test is not shown', async () => {
  const { findByRole, queryByRole } = shown([aSearch({ outcome: 'called-off' }), aSearch({ bisectionId: 's2', name: 'another' })])
  await findByRole('button', { name: 'Find it by building' })
  expect(queryByRole('region', { name: 'Found by building' })).toBeNull()
})

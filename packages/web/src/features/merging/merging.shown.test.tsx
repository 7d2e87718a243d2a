import { expect, test } from '@jest/globals'
import type { MergeWaiting } from '@dystracer/core/merging/wire'
import { within } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { MergeRow } from './MergeRow'

const AT_MS = 1_770_000_000_000
const aWish = (given: Partial<MergeWaiting> = {}): MergeWaiting => ({
  repository: 'kiln',
  number: 7,
  title: 'Bound the ramp',
  author: 'Teo Marsh',
  base: 'main',
  by: 'person:ines',
  method: 'merge',
  atMs: AT_MS,
  unmet: [],
  trial: null,
  ...given,
})
const shown = (rows: MergeWaiting[]) =>
  show(<MergeRow />, { answers: { readMe: () => aMe(), listMergesWaiting: () => ({ rows }) }, at: '/code~row' })

test('changes stand in the row of their base, with what is missing and how they do on top of each other', async () => {
  const { findByRole, user, address } = shown([
    aWish({ trial: { ahead: [], build: '12', state: 'passed' } }),
    aWish({ number: 9, title: 'Cool slower', trial: { ahead: [7], build: '13', state: 'running' } }),
    aWish({ number: 4, title: 'A panel', unmet: [{ code: 'settled', isMet: false, needs: 0, has: 2, personIds: [], words: null }] }),
    aWish({ repository: 'planner', number: 2, title: 'Plan', trial: { ahead: [], build: null, state: null } }),
  ])
  const row = within(await findByRole('region', { name: 'kiln, into main' }))
  expect(row.getAllByRole('listitem').map((line) => line.textContent)).toEqual([
    expect.stringMatching(/^17 Bound the ramp.*all holds · merged alone; build 12 passed$/),
    expect.stringMatching(/^29 Cool slower.*all holds · merged with 7; build 13 is running$/),
    expect.stringMatching(/^34 A panel.*2 remarks not settled$/),
  ])
  const other = within(await findByRole('region', { name: 'planner, into main' }))
  expect(other.getByRole('listitem').textContent).toMatch(/merged alone; its build has not begun$/)
  await user.click(row.getByRole('link', { name: '9 Cool slower' }))
  expect(address()).toContain('pull-request~kiln,9')
})

test('where nothing waits it says how something comes to', async () => {
  const { findByText } = shown([])
  await findByText(/Nothing waits to be merged/)
})

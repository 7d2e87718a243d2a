import { beforeEach, expect, test } from '@jest/globals'
import { show } from '#shared/test/shown'
import { Tour } from './Tour'

const STOPS = [
  { title: 'Decide what came in', why: 'with one key', path: '/triage' },
  { title: 'What production got', why: 'by its items', path: '/releases' },
]
beforeEach(() => localStorage.clear())

test('leads to its places, and knows which were seen, also the next time', async () => {
  const first = show(<Tour stops={STOPS} />)
  expect(first.queryByText(/· seen/)).toBeNull()
  await first.user.click(first.getByRole('link', { name: 'What production got' }))
  expect(first.address()).toBe('/releases')
  first.unmount()
  const again = show(<Tour stops={STOPS} />)
  expect(again.getAllByRole('listitem').map((row) => row.textContent)).toEqual([
    'Decide what came in: with one key',
    'What production got: by its items · seen',
  ])
})

test('is put away for good, and is nothing where there are no places', async () => {
  const first = show(<Tour stops={STOPS} />)
  await first.user.click(first.getByRole('button', { name: 'Put this away' }))
  expect(first.queryByRole('region')).toBeNull()
  first.unmount()
  const again = show(<Tour stops={STOPS} />)
  expect(again.queryByRole('region')).toBeNull()
  again.unmount()
  localStorage.clear()
  expect(show(<Tour stops={[]} />).queryByRole('region')).toBeNull()
})

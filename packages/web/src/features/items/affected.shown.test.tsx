import { describe, expect, test } from '@jest/globals'
import type { Affected } from '@dystracer/core/items/wire'
import { waitFor, within } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { aDetail } from '#shared/test/an-item'
import { show, type Answers } from '#shared/test/shown'
import { AffectedReleases } from './AffectedReleases'

type Cell = Affected['services'][number]['releases'][number]['cells'][number]
const aCell = (given: Partial<Cell> = {}): Cell => ({
  environment: 'production',
  state: 'untried',
  ground: null,
  count: 0,
  by: null,
  atMs: null,
  said: null,
  ...given,
})
const affected = (cells: Cell[]): Affected => ({
  environments: cells.map(({ environment }) => environment),
  services: [{ service: 'kiln', releases: [{ release: '4.1.3', atMs: 0, cells }] }],
})
const opened = async (data: Affected, answers: Answers = {}) => {
  const shown = show(<AffectedReleases item={aDetail({ key: 'EMB-7' })} />, {
    answers: { readMe: () => aMe(), readAffected: () => data, ...answers },
    at: '/items/item~EMB-7',
  })
  const open = await shown.findByRole('button', { name: 'Which releases are affected?' })
  expect(shown.asked.some(({ name }) => name === 'readAffected')).toBe(false)
  await shown.user.click(open)
  return shown
}

describe('which releases a defect is in', () => {
  test.each([
    [aCell({ state: 'affected', ground: 'seen', count: 3 }), 'affected', 'seen 3 times there'],
    [aCell({ state: 'not', ground: 'tested', by: 'person:rafe' }), 'not affected', 'tried by hand by Rafe Lindqvist'],
    [aCell({ state: 'affected', ground: 'said', by: 'person:ines' }), 'affected', 'said by Ines Calder'],
    [aCell({ state: 'fixed', ground: 'fix' }), 'fixed', 'the fix is in it'],
    [aCell({ state: 'affected', ground: 'found-in' }), 'affected', 'found in it'],
    [aCell(), 'not tried', ''],
  ] as const)('is told with what says so (%#)', async (cell, state, why) => {
    const { findByRole } = await opened(affected([cell]))
    const table = await findByRole('table')
    // Names are known a moment later.
    await waitFor(() => expect(within(table).getByText(state, { selector: 'span[title]' }).getAttribute('title')).toBe(why))
  })

  test('is said otherwise by choosing, and taken back by choosing nothing', async () => {
    const said = affected([aCell({ said: 'affected', state: 'affected', ground: 'said', by: 'person:ines' })])
    const { user, findByLabelText, bodiesOf } = await opened(said, { sayAffected: () => said })
    const choose = await findByLabelText('What is said of kiln 4.1.3 in production')
    await user.selectOptions(choose, 'not')
    // One word at a time: the next waits until the first is kept.
    await waitFor(() => expect(choose.hasAttribute('disabled')).toBe(false))
    await user.selectOptions(choose, '')
    await waitFor(() =>
      expect(bodiesOf('sayAffected')).toEqual([
        { service: 'kiln', release: '4.1.3', environment: 'production', verdict: 'not' },
        { service: 'kiln', release: '4.1.3', environment: 'production', verdict: null },
      ]),
    )
  })

  test('is only read by who may not change the item', async () => {
    const wren = aMe({ person: { personId: 'wren', name: 'Wren Abara', initials: 'WA', role: 'reader' } })
    const { findByText, queryByRole } = await opened(affected([aCell({ state: 'affected', ground: 'seen', count: 1 })]), {
      readMe: () => wren,
    })
    await findByText('seen 1 time there')
    expect(queryByRole('combobox')).toBeNull()
  })

  test('says what is missing where nothing is known', async () => {
    const first = await opened({ environments: [], services: [] })
    await first.findByText(/None that is known/)
    first.unmount()
    const { findByText } = await opened({ environments: ['production'], services: [{ service: 'kiln', releases: [] }] })
    await findByText('It has no release yet.')
  })
})

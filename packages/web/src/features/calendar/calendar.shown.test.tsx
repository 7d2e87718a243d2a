import { describe, expect, test } from '@jest/globals'
import type { ReleaseBoard } from '@dystracer/core/releases/wire'
import { waitFor, within } from '@testing-library/react'
import { Toaster } from 'sonner'
import { aMe, aSetup } from '#shared/test/a-me'
import { aDetail, anItem } from '#shared/test/an-item'
import { show, type Answers } from '#shared/test/shown'
import { CalendarPane } from './CalendarPane'

const BOARD: ReleaseBoard = {
  hasDeployer: true,
  environments: [],
  services: [
    {
      service: 'kiln',
      repository: 'kiln',
      releases: [
        {
          service: 'kiln',
          release: '4.1.3',
          repository: 'kiln',
          tag: 'v4.1.3',
          sha: 'a'.repeat(40),
          atMs: Date.parse('2026-11-12T12:00:00Z'),
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
    },
  ],
}

/** A server with things due in November; it keeps what is moved. */
function aServer({ role = 'lead' as 'lead' | 'reader', refuses = false, crowd = 0 } = {}): Answers {
  let rows = [
    anItem({ key: 'EMB-1', title: 'Relay sticks', dueOn: '2026-11-10' }),
    anItem({ key: 'EMB-2', title: 'Panel flickers', dueOn: null }),
    ...Array.from({ length: crowd }, (_, at) => anItem({ key: `EMB-${at + 10}`, title: `One of many ${at}`, dueOn: '2026-11-20' })),
  ]
  return {
    readMe: () => aMe({ person: { personId: 'ines', name: 'Ines Okafor', initials: 'IO', role } }),
    listViews: () => ({ rows: [] }),
    readSetup: () =>
      aSetup({ milestones: [{ name: 'October', startsOn: null, dueOn: '2026-11-17', isClosed: false, openItems: 0, settledItems: 0 }] }),
    readReleaseBoard: () => BOARD,
    listItems: ({ query }) => {
      const shown = rows.filter(({ dueOn }) => (dueOn === null) === (query.filter ?? '').includes('not due'))
      return { rows: shown, nextCursor: null, total: shown.length }
    },
    changeItem: ({ params, body }) => {
      if (refuses) return { refused: 'conflict', detail: 'It is archived.' }
      rows = rows.map((row) => (row.key === params.key ? { ...row, dueOn: body.dueOn ?? null } : row))
      return aDetail({ key: params.key ?? '' })
    },
  }
}
const calendar = (answers: Answers) => {
  const shown = show(
    <>
      <CalendarPane id="?month=2026-11" />
      <Toaster />
    </>,
    { answers, at: '/calendar~?month=2026-11' },
  )
  const day = (name: RegExp) => within(shown.getByRole('cell', { name }))
  return { ...shown, day }
}

describe('the calendar', () => {
  test('has items and milestones on their days, releases where they happened, and apart what has no day', async () => {
    const { findByText, day, getByRole, user, address } = calendar(aServer())
    await findByText('Relay sticks')
    expect(day(/^Tuesday 10 November/).getByText('Relay sticks')).toBeTruthy()
    await findByText('October due')
    expect(day(/^Thursday 12 November/).getByText('kiln 4.1.3')).toBeTruthy()
    const undated = within(getByRole('region', { name: 'Without a due day' }))
    expect(undated.getByText('no due day: 1')).toBeTruthy()
    expect(undated.getByText('Panel flickers')).toBeTruthy()
    await user.click(day(/^Thursday 12 November/).getByText('kiln 4.1.3'))
    await waitFor(() => expect(decodeURIComponent(address())).toContain('release~kiln@4.1.3'))
  })

  test('a thing moves by a day or a week with Alt and the arrows, at once', async () => {
    const { findByText, day, user, bodiesOf } = calendar(aServer())
    ;(await findByText('Relay sticks')).closest('button')?.focus()
    await user.keyboard('{Alt>}{ArrowDown}{/Alt}')
    await findByText('EMB-1 is due on 2026-11-17')
    await waitFor(() => expect(day(/^Tuesday 17 November/).getByText('Relay sticks')).toBeTruthy())
    expect(bodiesOf('changeItem')).toEqual([{ dueOn: '2026-11-17' }])
  })

  test('what is refused goes back to where it stood, and says why', async () => {
    const { findByText, day, user } = calendar(aServer({ refuses: true }))
    ;(await findByText('Relay sticks')).closest('button')?.focus()
    await user.keyboard('{Alt>}{ArrowRight}{/Alt}')
    await findByText(/It is archived/)
    await waitFor(() => expect(day(/^Tuesday 10 November/).getByText('Relay sticks')).toBeTruthy())
  })

  test('a crowded day shows three and opens to all of them', async () => {
    const { findByText, day, user, getByRole } = calendar(aServer({ crowd: 7 }))
    await findByText('One of many 0')
    expect(day(/^Friday 20 November/).queryByText('One of many 6')).toBeNull()
    await user.click(day(/^Friday 20 November/).getByRole('button', { name: '4 more' }))
    expect(within(getByRole('dialog', { name: 'All of 2026-11-20' })).getByText('One of many 6')).toBeTruthy()
  })

  test('a reader moves nothing', async () => {
    const { findByText, user, bodiesOf } = calendar(aServer({ role: 'reader' }))
    ;(await findByText('Relay sticks')).closest('button')?.focus()
    await user.keyboard('{Alt>}{ArrowDown}{/Alt}')
    expect(bodiesOf('changeItem')).toEqual([])
  })
})

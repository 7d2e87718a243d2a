import { expect, test } from '@jest/globals'
import { aMe } from '#shared/test/a-me'
import { aDetail } from '#shared/test/an-item'
import { show } from '#shared/test/shown'
import { TimePane } from './TimePane'

test('time is added up by what one asks, between days, and the same is to be had as a file', async () => {
  const asked: Record<string, string>[] = []
  const { user, findByText, getByLabelText, getByRole } = show(<TimePane id="" />, {
    answers: {
      readMe: () => aMe(),
      readTimeSums: ({ query }) => {
        asked.push(query)
        return query.by === 'week'
          ? { rows: [{ group: '2026-W47', minutes: 90, bookings: 2 }], totalMinutes: 90 }
          : { rows: [{ group: 'rafe', minutes: 90, bookings: 2 }], totalMinutes: 90 }
      },
    },
  })
  await findByText('1 h 30 in all')
  await findByText('Rafe Lindqvist')
  await user.selectOptions(getByLabelText('Add up by'), 'week')
  await findByText('2026-W47')
  expect(asked.map(({ by }) => by)).toEqual(['person', 'week'])
  expect(getByRole('link', { name: 'as CSV' }).getAttribute('href')).toBe('/api/v1/time.csv?')
})

test('time of an item is booked in words; what is no time is said at the field and asks nobody', async () => {
  const { user, findByRole, findByText, getByLabelText, getByPlaceholderText, getByRole, bodiesOf } = show(<TimePane id="EMB-7" />, {
    answers: {
      readMe: () => aMe(),
      readItem: () => aDetail({ key: 'EMB-7', spentMinutes: 30, estimateMinutes: 120 }),
      listTime: () => ({
        rows: [{ entryId: 'e1', itemKey: 'EMB-7', personId: 'ines', minutes: 30, on: '2026-11-20', provenance: 'commit', atMs: 0 }],
        nextCursor: null,
      }),
      bookTime: () => ({ rows: [], nextCursor: null }),
      takeTimeBack: () => ({ refused: 'not-found', detail: 'It is gone already.' }),
    },
  })
  await findByText(/left/)
  const book = await findByRole('button', { name: 'Book' })
  await user.type(getByLabelText('Time'), 'soon{Enter}')
  await findByText(/Such as 1h 30m/)
  expect(bodiesOf('bookTime')).toEqual([])
  await user.clear(getByPlaceholderText('1h 30m'))
  await user.type(getByPlaceholderText('1h 30m'), '45m')
  await user.click(book)
  expect(bodiesOf('bookTime')).toEqual([{ minutes: 45 }])
  getByRole('button', { name: 'Take back 30 min of 2026-11-20' })
})

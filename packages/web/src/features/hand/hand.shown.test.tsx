import { expect, test } from '@jest/globals'
import { waitFor, within } from '@testing-library/react'
import type { Hand } from '@dystracer/core/hand/wire'
import { aMe } from '#shared/test/a-me'
import { anItem } from '#shared/test/an-item'
import { show, type Answers } from '#shared/test/shown'
import { HandPanel } from './HandPanel'
import { PrivateNote } from './PrivateNote'
import { TakeInHand } from './TakeInHand'

type Held = NonNullable<Hand['current']>
const held = (key: string, given: Partial<Held> = {}): Held => ({
  item: anItem({ key, title: `About ${key}` }),
  branch: null,
  sinceMs: 1_790_000_000_000,
  workedMs: 0,
  offeredMinutes: 0,
  ...given,
})

/** A server that keeps one hand: what is taken parks what was held. */
function aHand(begin: Hand): Answers {
  let hand = begin
  const all = () => [...(hand.current ? [hand.current] : []), ...hand.parked]
  const change = (next: Hand) => {
    hand = next
    return hand
  }
  const without = (key: string) => all().filter(({ item }) => item.key !== key)
  return {
    readMe: () => aMe(),
    readHand: () => hand,
    takeInHand: ({ body }) =>
      body.key === 'EMB-9'
        ? { refused: 'gate-closed', detail: 'EMB-9 waits for another item.' }
        : change({ current: all().find(({ item }) => item.key === body.key) ?? held(body.key), parked: without(body.key) }),
    parkItem: () => change({ current: null, parked: all() }),
    putDown: ({ params }) =>
      change({
        current: hand.current?.item.key === params.key ? null : hand.current,
        parked: hand.parked.filter(({ item }) => item.key !== params.key),
      }),
    bookHand: () => change({ ...hand, current: hand.current && { ...hand.current, offeredMinutes: 0 } }),
  }
}

test('what is in hand stands first with its branch; its time is offered, and booked by a press alone', async () => {
  const current = held('EMB-1', { branch: 'fix/EMB-1', workedMs: 95 * 60_000, offeredMinutes: 95 })
  const { findByRole, user, asked, bodiesOf } = show(<HandPanel />, { answers: aHand({ current, parked: [held('EMB-2')] }) })
  const panel = within(await findByRole('region', { name: 'In hand' }))
  expect(panel.getAllByText(/^in hand$|^parked$/).map(({ textContent }) => textContent)).toEqual(['in hand', 'parked'])
  panel.getByText('fix/EMB-1')
  expect(bodiesOf('bookHand')).toEqual([])
  await user.click(panel.getByRole('button', { name: /^Book 1 ?h ?35/ }))
  await waitFor(() => expect(panel.queryByRole('button', { name: /^Book/ })).toBeNull())
  expect(asked.find(({ name }) => name === 'bookHand')).toMatchObject({ params: { key: 'EMB-1' }, body: { minutes: 95 } })
})

test('it is parked, resumed and put down; an empty hand shows nothing', async () => {
  const { findByRole, queryByRole, user } = show(<HandPanel />, { answers: aHand({ current: held('EMB-1'), parked: [] }) })
  await user.click(await findByRole('button', { name: 'Park EMB-1' }))
  await user.click(await findByRole('button', { name: 'Resume EMB-1' }))
  await findByRole('button', { name: 'Park EMB-1' })
  await user.click(await findByRole('button', { name: 'Put down EMB-1' }))
  await waitFor(() => expect(queryByRole('region', { name: 'In hand' })).toBeNull())
})

test('an item is taken in hand where it stands; what is refused changes nothing', async () => {
  const answers = aHand({ current: held('EMB-1'), parked: [held('EMB-2')] })
  const held2 = show(<TakeInHand itemKey="EMB-2" />, { answers })
  await held2.user.click(await held2.findByRole('button', { name: 'Resume' }))
  await waitFor(() => expect(held2.queryByRole('button')).toBeNull())
  held2.unmount()
  const other = show(<TakeInHand itemKey="EMB-9" />, { answers })
  await other.user.click(await other.findByRole('button', { name: 'Take in hand' }))
  await waitFor(() => expect(other.bodiesOf('takeInHand')).toHaveLength(1))
  expect(await other.findByRole('button', { name: 'Take in hand' })).toBeTruthy()
})

test('a note is kept for oneself; one that was put aside or refused is not lost', async () => {
  let kept = { text: '', atMs: null as number | null }
  let isFull = true
  const { findByRole, findByLabelText, findByText, getByRole, user, bodiesOf } = show(<PrivateNote itemKey="EMB-1" />, {
    answers: {
      readNote: () => kept,
      writeNote: ({ body }) => {
        if (isFull) return { refused: 'disk-full' }
        kept = { text: body.text, atMs: 1_790_000_000_000 }
        return kept
      },
    },
  })
  const note = async () => (await findByLabelText('Note for yourself')) as HTMLTextAreaElement
  await user.click(await findByRole('button', { name: 'Write a note for yourself' }))
  await user.type(await note(), 'Ask Rafe{Escape}')
  await user.click(await findByRole('button', { name: 'Write a note for yourself' }))
  expect((await note()).value).toBe('Ask Rafe')
  await user.type(getByRole('textbox'), ' about it{Control>}{Enter}{/Control}')
  await waitFor(() => expect(bodiesOf('writeNote')).toEqual([{ text: 'Ask Rafe about it' }]))
  expect((await note()).value).toBe('Ask Rafe about it')
  isFull = false
  await user.click(getByRole('button', { name: 'Keep the note' }))
  await findByText('Ask Rafe about it')
  await user.click(getByRole('button', { name: 'My note' }))
  expect((await note()).value).toBe('Ask Rafe about it')
})

import { afterEach, describe, expect, test } from '@jest/globals'
import type { BoardField } from '@dystracer/core/board/board'
import { waitFor } from '@testing-library/react'
import { toast, Toaster } from 'sonner'
import { aMe, aSetup } from '#shared/test/a-me'
import { aDetail, anItem } from '#shared/test/an-item'
import { show, type Answers } from '#shared/test/shown'
import { BoardColumn } from './BoardColumn'

// Messages outlive the page that said them.
afterEach(() => void toast.dismiss())

const shown = (field: BoardField, value: string, given: { most?: number; cards?: number; canMove?: boolean; answers?: Answers } = {}) => {
  const { most = null, cards = 2, canMove = true, answers = {} } = given
  const steps: [string, number][] = []
  const page = show(
    <>
      <BoardColumn
        place={{ value, lane: '' }}
        field={field}
        label="Rafe Lindqvist"
        cards={Array.from({ length: cards }, (_, at) => anItem({ key: `EMB-${at + 1}`, title: `Lamp ${at + 1}` }))}
        most={most}
        refusal={null}
        isOver={false}
        canMove={canMove}
        chosenKeys={new Set()}
        onChoose={() => {}}
        openKey={null}
        onOpen={() => {}}
        onStep={(item, by) => steps.push([item.key, by])}
      />
      <Toaster />
    </>,
    { answers: { readMe: () => aMe(), readSetup: () => aSetup(), ...answers } },
  )
  return { ...page, steps }
}

describe('a column of the board', () => {
  test.each([
    ['owner', 'rafe', { ownerId: 'rafe' }],
    ['severity', '2', { severity: 2 }],
    ['labels', 'night', { labels: ['night'] }],
    ['milestone', '', { milestone: null }],
    ['type', 'task', { type: 'task' }],
    ['stage', 'logged', {}],
  ] as const)('by %s logs an item in place that stands there at once', async (field, value, expected) => {
    const { user, findByLabelText, bodiesOf, findByText } = shown(field, value, {
      answers: { logItem: ({ body }) => aDetail({ key: 'EMB-9', title: body.title }) },
    })
    const title = (await findByLabelText('Title of a new item in Rafe Lindqvist')) as HTMLInputElement
    await waitFor(() => expect(title.isConnected).toBe(true))
    await user.type(title, '  {Enter}')
    await user.type(title, 'Lid rattles{Enter}')
    await findByText('EMB-9 is logged')
    expect(bodiesOf('logItem')).toEqual([expect.objectContaining({ title: 'Lid rattles', project: 'EMB', ...expected })])
    expect(title.value).toBe('')
  })

  test('of a later stage logs nothing: that is proved, not given', async () => {
    const { findByText, queryByLabelText } = shown('stage', 'merged')
    await findByText('2')
    expect(queryByLabelText(/^Title of a new item/)).toBeNull()
  })

  test('keeps what was typed where it is refused, and says why', async () => {
    const { user, findByLabelText, findByText } = shown('owner', 'rafe', {
      answers: { logItem: () => ({ refused: 'not-allowed', detail: 'The project is archived.' }) },
    })
    const title = (await findByLabelText('Title of a new item in Rafe Lindqvist')) as HTMLInputElement
    await user.type(title, 'Lid rattles{Enter}')
    await findByText('The project is archived.')
    expect(title.value).toBe('Lid rattles')
  })

  test('warns above its limit, which a lead sets and takes away; Escape leaves it', async () => {
    const { user, findByRole, getByRole, getByLabelText, bodiesOf } = shown('owner', 'rafe', {
      most: 1,
      answers: { setLimit: () => aSetup() },
    })
    const count = await findByRole('button', { name: '2 of 1 in Rafe Lindqvist. Set how many at most' })
    expect(count.className).toContain('text-fault')
    await user.click(count)
    await user.type(getByLabelText('At most in Rafe Lindqvist'), '7{Escape}')
    expect(bodiesOf('setLimit')).toEqual([])
    await user.click(getByRole('button', { name: /^2 of 1 in/ }))
    await user.clear(getByLabelText('At most in Rafe Lindqvist'))
    await user.type(getByLabelText('At most in Rafe Lindqvist'), '{Enter}')
    await waitFor(() => expect(bodiesOf('setLimit')).toEqual([{ field: 'owner', value: 'rafe', most: null }]))
  })

  test('is read by whoever may not change it: no limit to set, nothing to add', async () => {
    const wren = { personId: 'wren', name: 'Wren Abara', initials: 'WA', role: 'reader' } as const
    const { findByText, queryByRole, queryByLabelText } = shown('owner', 'rafe', {
      canMove: false,
      answers: { readMe: () => aMe({ person: wren }) },
    })
    await findByText('2')
    expect(queryByRole('button', { name: /Set how many at most/ })).toBeNull()
    expect(queryByLabelText(/^Title of a new item/)).toBeNull()
  })
})

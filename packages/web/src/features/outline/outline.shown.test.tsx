import { describe, expect, test } from '@jest/globals'
import type { OutlineEntry } from '@dystracer/core/looking/wire'
import { waitFor } from '@testing-library/react'
import { Toaster } from 'sonner'
import { aMe } from '#shared/test/a-me'
import { aDetail, anItem } from '#shared/test/an-item'
import { show, type Answers } from '#shared/test/shown'
import { OutlinePane } from './OutlinePane'

const entry = (key: string, parentKey: string | null, title: string): OutlineEntry => ({
  item: anItem({ key, title }),
  parentKey,
  isContext: false,
})

/** A server that keeps what is a part of what; an epic with a story, a task in it, and a defect beside it. */
function aServer({ role = 'lead' as 'lead' | 'reader', refuses = false, total = 4 } = {}): Answers {
  let rows = [
    entry('EMB-1', null, 'Firing by itself'),
    entry('EMB-2', 'EMB-1', 'Plan a firing'),
    entry('EMB-3', 'EMB-2', 'Draw the curve'),
    entry('EMB-4', null, 'Relay sticks'),
  ]
  return {
    readMe: () => aMe({ person: { personId: 'ines', name: 'Ines Okafor', initials: 'IO', role } }),
    listViews: () => ({ rows: [] }),
    readOutline: () => ({ rows, total }),
    setParent: ({ params, body }) => {
      if (refuses) return { refused: 'conflict', detail: 'It would be a part of itself.' }
      rows = rows.map((row) => (row.item.key === params.key ? { ...row, parentKey: body.parent } : row))
      return aDetail({ key: params.key ?? '' })
    },
  }
}
const outline = (answers: Answers) => {
  const shown = show(
    <>
      <OutlinePane id="" />
      <Toaster />
    </>,
    { answers, at: '/outline' },
  )
  /** The rows as they stand, each by the key of its item. */
  const rows = () =>
    [...shown.getByRole('listbox', { name: 'Outline' }).querySelectorAll('[role="option"]')].map(
      (row) => /EMB-\d/.exec(row.textContent ?? '')?.[0],
    )
  const goTo = async (key: string) => {
    shown.getByRole('listbox', { name: 'Outline' }).focus()
    await shown.user.keyboard('{Home}')
    for (let at = rows().indexOf(key); at > 0; at--) await shown.user.keyboard('{ArrowDown}')
  }
  return { ...shown, rows, goTo }
}

describe('the outline', () => {
  test('stands as what is a part of what, and folds by the arrows', async () => {
    const { findByText, rows, goTo, user } = outline(aServer())
    await findByText('Draw the curve')
    expect(rows()).toEqual(['EMB-1', 'EMB-2', 'EMB-3', 'EMB-4'])
    await goTo('EMB-1')
    await user.keyboard('{ArrowLeft}')
    await waitFor(() => expect(rows()).toEqual(['EMB-1', 'EMB-4']))
    await user.keyboard('{ArrowRight}')
    await waitFor(() => expect(rows()).toEqual(['EMB-1', 'EMB-2', 'EMB-3', 'EMB-4']))
  })

  test('a row becomes a part of the one above it by Alt and the arrows, and leaves it again', async () => {
    const { findByText, goTo, user, bodiesOf, asked } = outline(aServer())
    await findByText('Relay sticks')
    await goTo('EMB-4')
    await user.keyboard('{Alt>}{ArrowRight}{/Alt}')
    await findByText('EMB-4 is a part of EMB-1 now')
    await goTo('EMB-4')
    await waitFor(() => expect(asked.filter(({ name }) => name === 'readOutline').length).toBeGreaterThan(1))
    await user.keyboard('{Alt>}{ArrowLeft}{/Alt}')
    await findByText('EMB-4 is a part of nothing now')
    expect(bodiesOf('setParent')).toEqual([{ parent: 'EMB-1' }, { parent: null }])
  })

  test('what was moved goes back by Undo, and what is refused says why', async () => {
    const moved = outline(aServer())
    await moved.findByText('Relay sticks')
    await moved.goTo('EMB-4')
    await moved.user.keyboard('{Alt>}{ArrowRight}{/Alt}')
    await moved.user.click(await moved.findByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(moved.bodiesOf('setParent')).toEqual([{ parent: 'EMB-1' }, { parent: null }]))
    moved.unmount()
    const refused = outline(aServer({ refuses: true }))
    await refused.findByText('Relay sticks')
    await refused.goTo('EMB-4')
    await refused.user.keyboard('{Alt>}{ArrowRight}{/Alt}')
    await refused.findByText(/It would be a part of itself/)
  })

  test('a reader moves nothing; of more than is shown it says so', async () => {
    const { findByText, goTo, user, bodiesOf } = outline(aServer({ role: 'reader', total: 900 }))
    await findByText('Relay sticks')
    await findByText(/The first 4 of 900/)
    await goTo('EMB-4')
    await user.keyboard('{Alt>}{ArrowRight}{/Alt}')
    expect(bodiesOf('setParent')).toEqual([])
  })
})

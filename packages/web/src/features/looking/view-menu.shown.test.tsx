import { afterEach, describe, expect, jest, test } from '@jest/globals'
import type { Look } from '@dystracer/core/looking/look'
import type { View } from '@dystracer/core/looking/wire'
import { waitFor, within } from '@testing-library/react'
import { toast, Toaster } from 'sonner'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import type { OpenLook } from './use-look'
import { ViewMenu } from './ViewMenu'

const aView = (given: Partial<View> = {}): View => ({
  viewId: 'v1',
  name: 'Mine, worst first',
  filter: 'is:mine',
  sort: 'worst',
  columns: ['severity', 'owner'],
  look: { layout: 'items', widths: {} },
  ownerId: 'ines',
  isShared: false,
  isPinned: true,
  ...given,
})
function menu(given: Partial<OpenLook> = {}, answers: Answers = {}) {
  const set = jest.fn((_change: Partial<Look>) => {})
  const look = {
    layout: 'items',
    filter: 'is:mine',
    sort: 'worst',
    columns: ['severity', 'owner'],
    view: undefined,
    hasWords: false,
    set,
    to: () => {},
    ...given,
  } as OpenLook
  const shown = show(
    <>
      <ViewMenu look={look} />
      <Toaster />
    </>,
    {
      answers: {
        readMe: () => aMe(),
        saveView: () => ({ rows: [] }),
        removeView: () => ({ rows: [] }),
        pinView: () => ({ rows: [] }),
        ...answers,
      },
      at: '/items~is:mine',
    },
  )
  return { ...shown, set }
}
const opened = async (given: Partial<OpenLook> = {}, answers: Answers = {}) => {
  const shown = menu(given, answers)
  await shown.user.click(await shown.findByRole('button', { name: given.view?.name ?? 'View…' }))
  return { ...shown, dialog: within(await shown.findByRole('dialog')) }
}
afterEach(() => void toast.dismiss())

describe('a way of looking', () => {
  test('has its columns chosen, in their own order, and its groups', async () => {
    const { user, dialog, set } = await opened()
    await user.click(dialog.getByRole('checkbox', { name: 'severity' }))
    expect(set).toHaveBeenLastCalledWith({ columns: ['owner'] })
    await user.click(dialog.getByRole('checkbox', { name: 'component' }))
    const { columns } = set.mock.lastCall?.[0] ?? {}
    expect([...(columns ?? [])].sort()).toEqual(['component', 'owner', 'severity'])
    await user.selectOptions(dialog.getByLabelText('In groups by'), 'milestone')
    expect(set).toHaveBeenLastCalledWith({ groupBy: 'milestone' })
    await user.selectOptions(dialog.getByLabelText('In groups by'), '')
    expect(set).toHaveBeenLastCalledWith({ groupBy: undefined })
  })

  test('that has neither is asked for neither', async () => {
    const { dialog } = await opened({ layout: 'calendar' })
    expect(dialog.queryByRole('region', { name: 'Columns' })).toBeNull()
    expect(dialog.queryByLabelText('In groups by')).toBeNull()
  })

  test('is kept by a name, with all that it is', async () => {
    const { user, dialog, findByText, bodiesOf, queryByRole } = await opened({ groupBy: 'owner' })
    const keep = dialog.getByRole('button', { name: 'Keep the view' })
    expect(keep.hasAttribute('disabled')).toBe(true)
    await user.type(dialog.getByRole('textbox', { name: /Keep it as a view/ }), ' Mine ')
    await user.click(dialog.getByRole('checkbox', { name: 'for everybody' }))
    await user.click(keep)
    await findByText('The view Mine is kept')
    await waitFor(() => expect(queryByRole('dialog')).toBeNull())
    expect(bodiesOf('saveView')).toMatchObject([
      {
        name: 'Mine',
        filter: 'is:mine',
        sort: 'worst',
        columns: ['severity', 'owner'],
        look: { layout: 'items', groupBy: 'owner' },
        isShared: true,
        isPinned: true,
      },
    ])
    expect(bodiesOf('saveView')[0]).not.toHaveProperty('viewId')
  })

  test('that is kept is changed, taken off the index at once, and removed', async () => {
    const { user, dialog, bodiesOf, asked, findByText, unmount } = await opened({ view: aView() })
    await user.click(dialog.getByRole('checkbox', { name: 'in my index' }))
    await waitFor(() => expect(bodiesOf('pinView')).toEqual([{ isPinned: false }]))
    await user.click(dialog.getByRole('button', { name: 'Keep the changes' }))
    await findByText('The view Mine, worst first is kept')
    expect(bodiesOf('saveView')).toMatchObject([{ viewId: 'v1', isPinned: false }])
    expect(asked.some(({ name }) => name === 'removeView')).toBe(false)
    unmount()
    const again = await opened({ view: aView() })
    await again.user.click(again.dialog.getByRole('button', { name: 'Remove the view' }))
    await waitFor(() => expect(again.asked.find(({ name }) => name === 'removeView')?.params).toEqual({ project: 'EMB', viewId: 'v1' }))
  })

  test('of somebody else is kept as one’s own, and never over theirs', async () => {
    const rafe = aMe({ person: { personId: 'rafe', name: 'Rafe Lindqvist', initials: 'RL', role: 'member' } })
    const { user, dialog, bodiesOf } = await opened({ view: aView({ isShared: true }) }, { readMe: () => rafe })
    await waitFor(() => dialog.getByRole('button', { name: 'Keep the view' }))
    expect(dialog.queryByRole('button', { name: 'Remove the view' })).toBeNull()
    await user.click(dialog.getByRole('button', { name: 'Keep the view' }))
    await waitFor(() => expect(bodiesOf('saveView')).toHaveLength(1))
    expect(bodiesOf('saveView')[0]).not.toHaveProperty('viewId')
  })

  test('refused, it stays open with what was typed', async () => {
    const { user, dialog, findByText } = await opened({}, { saveView: () => ({ refused: 'conflict', detail: 'A view is called that.' }) })
    await user.type(dialog.getByRole('textbox', { name: /Keep it as a view/ }), 'Mine')
    await user.click(dialog.getByRole('button', { name: 'Keep the view' }))
    await findByText(/A view is called that/)
    expect((dialog.getByRole('textbox', { name: /Keep it as a view/ }) as HTMLInputElement).value).toBe('Mine')
  })

  test('is taken along as files, and by private links that are made when they are asked for', async () => {
    const { user, dialog, asked } = await opened(
      { filter: 'is:open severity<=2' },
      {
        readFeedLinks: () => ({ calendar: 'https://dys.example/c/1', activity: 'https://dys.example/f/1' }),
      },
    )
    expect(dialog.getByRole('link', { name: 'as CSV' }).getAttribute('href')).toBe(
      '/api/v1/items.csv?filter=is%3Aopen+severity%3C%3D2&sort=worst',
    )
    expect(asked.some(({ name }) => name === 'readFeedLinks')).toBe(false)
    await user.click(dialog.getByRole('button', { name: /Private links/ }))
    await waitFor(() =>
      expect((dialog.getByLabelText('Due days, as a calendar') as HTMLInputElement).value).toBe('https://dys.example/c/1'),
    )
  })
})

import { beforeEach, describe, expect, jest, test } from '@jest/globals'
import { waitFor, within } from '@testing-library/react'
import { aMe, aSetup } from '#shared/test/a-me'
import { aDetail, anItem } from '#shared/test/an-item'
import { show, type Answers } from '#shared/test/shown'
import { LogDialog } from './LogDialog'

beforeEach(() => localStorage.clear())

async function shown(more: Answers = {}) {
  const onClose = jest.fn()
  const page = show(<LogDialog isOpen onClose={onClose} />, {
    answers: {
      readMe: () => aMe(),
      readSetup: () => aSetup(),
      listRequirements: () => ({ rows: [], nextCursor: null }),
      findLookAlikes: () => ({ rows: [] }),
      logItem: ({ body }) => aDetail({ key: 'EMB-12', title: body.title }),
      ...more,
    },
  })
  const dialog = within(await page.findByRole('dialog', { name: 'Log an item' }))
  const title = dialog.getByLabelText('Title') as HTMLInputElement
  await waitFor(() => expect((dialog.getByLabelText('Project') as HTMLSelectElement).value).toBe('EMB'))
  return { ...page, dialog, title, onClose }
}

describe('logging', () => {
  test('needs a title, says so at the field, and sends nothing without', async () => {
    const { user, dialog, title, bodiesOf } = await shown()
    await user.click(dialog.getByRole('button', { name: 'Log it' }))
    expect(dialog.getByText('A title is needed')).toBeTruthy()
    expect(document.activeElement).toBe(title)
    expect(bodiesOf('logItem')).toEqual([])
  })

  test('sends what was chosen, leaves the untouched template out, and opens the item', async () => {
    const { user, dialog, title, bodiesOf, onClose, address } = await shown()
    await user.type(title, 'Shelf light flickers')
    await user.selectOptions(dialog.getByLabelText('Component'), 'Firing control')
    await user.selectOptions(dialog.getByLabelText('Severity'), '2')
    await user.click(dialog.getByRole('button', { name: 'Log it' }))
    await waitFor(() => expect(onClose).toHaveBeenCalled())
    expect(bodiesOf('logItem')[0]).toMatchObject({
      title: 'Shelf light flickers',
      component: 'Firing control',
      severity: 2,
      description: '',
    })
    expect(address()).toMatch(/item~EMB-12$/)
  })

  test('keeps the draft when the server refuses it, and tells the mistake at its field', async () => {
    const { user, dialog, title, onClose } = await shown({
      logItem: () => ({ refused: 'invalid-input', fields: { component: 'No such component' } }),
    })
    await user.type(title, 'Shelf light flickers')
    await user.click(dialog.getByRole('button', { name: 'Log it' }))
    await dialog.findByText('No such component')
    expect(title.value).toBe('Shelf light flickers')
    expect(onClose).not.toHaveBeenCalled()
  })

  test('finds the draft again when it is opened anew', async () => {
    const { user, title, unmount } = await shown()
    await user.type(title, 'Shelf light flickers')
    unmount()
    expect((await shown()).title.value).toBe('Shelf light flickers')
  })

  test('goes on with the next where that is wanted, with the type kept and the rest new', async () => {
    const { user, dialog, title, onClose } = await shown()
    await user.type(title, 'Shelf light flickers')
    await user.selectOptions(dialog.getByLabelText('Type'), 'task')
    await user.selectOptions(dialog.getByLabelText('Component'), 'Billing')
    await user.click(dialog.getByRole('checkbox', { name: 'Keep going' }))
    await user.click(dialog.getByRole('button', { name: 'Log it' }))
    await waitFor(() => expect(title.value).toBe(''))
    expect((dialog.getByLabelText('Type') as HTMLSelectElement).value).toBe('task')
    expect((dialog.getByLabelText('Component') as HTMLSelectElement).value).toBe('')
    expect(onClose).not.toHaveBeenCalled()
  })

  test('shows what looks alike, and a report can join it', async () => {
    const { user, dialog, title, bodiesOf, onClose } = await shown({
      findLookAlikes: () => ({
        rows: [
          {
            item: anItem({ key: 'EMB-3', title: 'Shelf light dark' }),
            sharedWords: ['shelf', 'light'],
            relatedWords: [],
            otherWords: ['dark'],
            requirement: 'BKG-2',
          },
        ],
      }),
      reportAgain: () => aDetail({ key: 'EMB-3' }),
    })
    await user.type(title, 'Shelf light flickers')
    expect((await dialog.findByText(/^both say/)).textContent).toBe('both say “shelf”, “light”; both concern BKG-2')
    await user.click(dialog.getByRole('button', { name: 'It is this one: EMB-3' }))
    await waitFor(() => expect(onClose).toHaveBeenCalled())
    expect(bodiesOf('reportAgain')[0]).toMatchObject({ title: 'Shelf light flickers' })
  })

  test('the other fields stand behind “More”, without those that the type hides', async () => {
    const { user, dialog } = await shown()
    await user.click(dialog.getByRole('button', { name: /^More/ }))
    expect(dialog.getByLabelText('Owner')).toBeTruthy()
    expect(dialog.queryByLabelText('Points')).toBeNull()
    await user.selectOptions(dialog.getByLabelText('Type'), 'story')
    expect(dialog.getByLabelText('Points')).toBeTruthy()
  })
})

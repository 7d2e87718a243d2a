import { describe, expect, jest, test } from '@jest/globals'
import type { ChangeItem, Item } from '@dystracer/core/items/wire'
import { waitFor } from '@testing-library/react'
import { aMe, aSetup } from '#shared/test/a-me'
import { aDetail } from '#shared/test/an-item'
import { show } from '#shared/test/shown'
import { ItemFacts } from './ItemFacts'

async function shown(given: Partial<Item> = {}, { isSaved = true, me = aMe(), setup = aSetup() } = {}) {
  const save = jest.fn(async (_change: ChangeItem) => isSaved)
  const item = aDetail({ key: 'EMB-7', ...given })
  const page = show(<ItemFacts item={item} save={save} />, { answers: { readMe: () => me, readSetup: () => setup } })
  await waitFor(() => expect(page.getByRole('option', { name: 'Rafe Lindqvist' })).toBeTruthy())
  return { ...page, save }
}

describe('the fields of an item', () => {
  test('are saved as soon as one is chosen, and nothing means none', async () => {
    const { user, getByLabelText, save } = await shown({ severity: 2, ownerId: 'rafe' })
    await user.selectOptions(getByLabelText('Severity'), '4')
    await user.selectOptions(getByLabelText('Owner'), '')
    expect(save.mock.calls).toEqual([[{ severity: 4 }], [{ ownerId: null }]])
  })

  test('that are typed are saved when left, once, and not when nothing changed', async () => {
    const { user, getByLabelText, save } = await shown({ milestone: 'Spring' })
    const milestone = getByLabelText('Milestone')
    await user.click(milestone)
    await user.tab()
    expect(save).not.toHaveBeenCalled()
    await user.clear(milestone)
    await user.type(milestone, 'Summer{Enter}')
    expect(save.mock.calls).toEqual([[{ milestone: 'Summer' }]])
  })

  test('that are typed are put back by Escape', async () => {
    const { user, getByLabelText, save } = await shown({ milestone: 'Spring' })
    await user.type(getByLabelText('Milestone'), ' of next year{Escape}')
    expect((getByLabelText('Milestone') as HTMLInputElement).value).toBe('Spring')
    expect(save).not.toHaveBeenCalled()
  })

  test('show what is stored again when saving failed', async () => {
    const { user, getByLabelText } = await shown({ milestone: 'Spring' }, { isSaved: false })
    await user.type(getByLabelText('Milestone'), ' 2{Enter}')
    await waitFor(() => expect((getByLabelText('Milestone') as HTMLInputElement).value).toBe('Spring'))
  })

  test('are locked for those who may only read', async () => {
    const { getByLabelText, queryByRole } = await shown(
      {},
      { me: aMe({ person: { personId: 'otto', name: 'Otto', initials: 'OT', role: 'reader' } }) },
    )
    expect((getByLabelText('Severity') as HTMLSelectElement).disabled).toBe(true)
    expect((getByLabelText('Milestone') as HTMLInputElement).disabled).toBe(true)
    expect(queryByRole('button', { name: 'Change labels' })).toBeNull()
  })

  test('that a type hides are not there', async () => {
    const { queryByLabelText } = await shown({ type: 'story' })
    await waitFor(() => expect(queryByLabelText('Severity')).toBeNull())
  })

  test('an estimate is read as a length of time, and a wrong one is not sent', async () => {
    const { user, getByRole, getByLabelText, save } = await shown()
    await user.click(getByRole('button', { name: 'All fields' }))
    await user.type(getByLabelText('Estimate'), '1h 30m{Enter}')
    expect(save.mock.calls).toEqual([[{ estimateMinutes: 90 }]])
    await user.clear(getByLabelText('Estimate'))
    await user.type(getByLabelText('Estimate'), 'soon{Enter}')
    expect(save).toHaveBeenCalledTimes(1)
  })

  test('labels are one line with commas, each kept once', async () => {
    const { user, getByRole, getByLabelText, save } = await shown({ labels: ['sensor'] })
    await user.click(getByRole('button', { name: 'Change labels' }))
    const field = getByLabelText('Labels, with commas')
    await user.clear(field)
    await user.type(field, 'sensor, night shift, sensor,{Enter}')
    expect(save.mock.calls).toEqual([[{ labels: ['sensor', 'night shift'] }]])
  })

  test('several people own one item: they are chosen by boxes', async () => {
    const { user, getByRole, getByLabelText, save } = await shown({ coOwnerIds: ['ines'] })
    await user.click(getByRole('button', { name: 'All fields' }))
    const group = getByRole('group', { name: 'Also owned by' })
    await user.click(group.querySelector('button') as HTMLElement)
    await user.click(getByLabelText('Rafe Lindqvist'))
    expect(save.mock.calls).toEqual([[{ coOwnerIds: ['ines', 'rafe'] }]])
  })

  test('a value that is offered no more still shows', async () => {
    const { getByLabelText } = await shown({ component: 'Chimney' })
    expect((getByLabelText('Component') as HTMLSelectElement).value).toBe('Chimney')
  })
})

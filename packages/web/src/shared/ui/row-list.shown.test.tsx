import { describe, expect, jest, test } from '@jest/globals'
import { useState } from 'react'
import { show } from '#shared/test/shown'
import { RowList, type RowListProps } from './RowList'

const rowsTo = (count: number) => Array.from({ length: count }, (_, at) => `EMB-${at + 1}`)

type Given = Partial<Pick<RowListProps<string>, 'onKey' | 'onNearEnd'>>

/** A list whose page remembers which row is shown beside it. */
function Page({ onShow, ...list }: Given & { rows: readonly string[]; onShow: (row: string, isStep: boolean) => void }) {
  const [selected, setSelected] = useState<string | null>(null)
  return (
    <RowList
      label="Items"
      idOf={(row) => row}
      selectedId={selected}
      renderRow={(row) => row}
      onShow={(row, isStep) => {
        onShow(row, isStep)
        setSelected(row)
      }}
      {...list}
    />
  )
}

function shown(rows: readonly string[], given: Given = {}) {
  const onShow = jest.fn<(row: string, isStep: boolean) => void>()
  const page = show(<Page rows={rows} onShow={onShow} {...given} />)
  const list = page.getByRole('listbox', { name: 'Items' })
  const selected = () => list.querySelector('[aria-selected="true"]')?.textContent ?? null
  return { ...page, list, onShow, selected }
}

describe('a list of rows', () => {
  test('draws only what is on screen', () => {
    const { getAllByRole } = shown(rowsTo(5000))
    expect(getAllByRole('option').length).toBeLessThan(60)
  })

  test('moves with the arrows and says that it only steps, while Enter and a click open', async () => {
    const { user, list, onShow, selected, getByText } = shown(rowsTo(30))
    list.focus()
    await user.keyboard('{ArrowDown}{ArrowDown}{ArrowUp}')
    expect(onShow.mock.calls).toEqual([
      ['EMB-1', true],
      ['EMB-2', true],
      ['EMB-1', true],
    ])
    await user.keyboard('{Enter}')
    expect(onShow).toHaveBeenLastCalledWith('EMB-1', false)
    await user.click(getByText('EMB-4'))
    expect(onShow).toHaveBeenLastCalledWith('EMB-4', false)
    expect(selected()).toBe('EMB-4')
  })

  test('does not leave its ends', async () => {
    const { user, list, onShow } = shown(rowsTo(3))
    list.focus()
    await user.keyboard('{End}{ArrowDown}')
    expect(onShow).toHaveBeenLastCalledWith('EMB-3', true)
    await user.keyboard('{Home}{ArrowUp}')
    expect(onShow).toHaveBeenLastCalledWith('EMB-1', true)
  })

  test('tells a reader which row has the mark', async () => {
    const { user, list } = shown(rowsTo(3))
    list.focus()
    await user.keyboard('{ArrowDown}{ArrowDown}')
    const marked = list.getAttribute('aria-activedescendant')
    expect(document.getElementById(marked ?? '')?.textContent).toBe('EMB-2')
  })

  test('leaves keys to its owner first, and those with Ctrl to the browser', async () => {
    const onKey = jest.fn(() => true)
    const { user, list, onShow } = shown(rowsTo(3), { onKey })
    list.focus()
    await user.keyboard('{ArrowDown}')
    expect(onKey).toHaveBeenCalledTimes(1)
    expect(onShow).not.toHaveBeenCalled()
    await user.keyboard('{Control>}{ArrowDown}{/Control}')
    expect(onKey).toHaveBeenCalledTimes(1)
  })

  test.each([
    [5000, 0],
    [30, 1],
  ])('of %d rows asks %d times for the next page: only once its end comes near', (count, times) => {
    const onNearEnd = jest.fn()
    shown(rowsTo(count), { onNearEnd })
    expect(onNearEnd).toHaveBeenCalledTimes(times)
  })
})

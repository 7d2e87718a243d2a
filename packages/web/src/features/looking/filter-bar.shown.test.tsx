import { describe, expect, jest, test } from '@jest/globals'
import { within } from '@testing-library/react'
import { useState } from 'react'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { FilterBar } from './FilterBar'

/** A list's filter, as its page holds it. */
function Page({ start, onFilter }: { start: string; onFilter: (filter: string) => void }) {
  const [filter, setFilter] = useState(start)
  return (
    <FilterBar
      filter={filter}
      onFilter={(next) => {
        onFilter(next)
        setFilter(next)
      }}
    />
  )
}

function shown(start = '') {
  const onFilter = jest.fn<(filter: string) => void>()
  const page = show(<Page start={start} onFilter={onFilter} />, { answers: { readMe: () => aMe() } })
  return { ...page, onFilter, field: page.getByRole('combobox', { name: 'Filter' }) as HTMLInputElement }
}

describe('the filter as text', () => {
  test('is used when Enter is pressed, and not while it is typed', async () => {
    const { user, field, onFilter } = shown()
    await user.type(field, 'open severity<=2')
    expect(onFilter).not.toHaveBeenCalled()
    await user.keyboard('{Enter}')
    expect(onFilter.mock.calls).toEqual([['open severity<=2']])
  })

  test('is used when the field is left', async () => {
    const { user, field, onFilter } = shown()
    await user.type(field, 'open')
    await user.tab()
    expect(onFilter).toHaveBeenLastCalledWith(expect.stringContaining('open'))
  })

  test('shows where it is wrong, and the list keeps the filter that it had', async () => {
    const { user, field, getByRole, queryByRole, onFilter } = shown('open')
    await user.clear(field)
    await user.type(field, 'severity<=x')
    expect(getByRole('alert').textContent).toContain('is no value of this field')
    await user.keyboard('{Enter}')
    expect(onFilter).not.toHaveBeenCalled()
    await user.clear(field)
    await user.type(field, 'severity<=3{Enter}')
    expect(queryByRole('alert')).toBeNull()
    expect(onFilter).toHaveBeenLastCalledWith('severity<=3')
  })

  test('is put back by Escape, once the list of completions is closed', async () => {
    const { user, field, onFilter } = shown('open')
    await user.type(field, ' compo')
    await user.keyboard('{Escape}')
    expect(field.value).toBe('open compo')
    await user.keyboard('{Escape}')
    expect(field.value).toBe('open')
    expect(onFilter).not.toHaveBeenCalled()
  })
})

describe('completions', () => {
  test('offer what the project knows, and Tab takes the first', async () => {
    const { user, field, findByRole } = shown()
    await user.type(field, 'component=Fir')
    const list = await findByRole('listbox', { name: 'Completions' })
    expect(within(list).getAllByRole('option')[0]?.textContent).toContain('Firing control')
    await user.keyboard('{Tab}')
    expect(field.value).toBe('component="Firing control" ')
    expect(document.activeElement).toBe(field)
  })

  test('are gone through with the arrows, round and round, and taken with Enter', async () => {
    const { user, field, findByRole } = shown()
    await user.type(field, 'owner=')
    const options = within(await findByRole('listbox', { name: 'Completions' })).getAllByRole('option')
    await user.keyboard('{ArrowUp}')
    expect(field.getAttribute('aria-activedescendant')).toBe(options.at(-1)?.id)
    await user.keyboard('{ArrowDown}')
    expect(field.getAttribute('aria-activedescendant')).toBe(options[0]?.id)
    await user.keyboard('{Enter}')
    expect(field.value).toMatch(/^owner=\S+ $/)
  })
})

test('conditions stand below the text, and a click takes one away', async () => {
  const { user, getByRole, onFilter } = shown('open owner=rafe')
  await user.click(getByRole('button', { name: 'Without owner=rafe' }))
  expect(onFilter.mock.calls).toEqual([['open']])
})

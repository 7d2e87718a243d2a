import { expect, test } from '@jest/globals'
import type { SearchHit } from '@dystracer/core/desk/wire'
import { waitFor } from '@testing-library/react'
import { show } from '#shared/test/shown'
import { FindDialog } from './FindDialog'

const aHit = (given: Partial<SearchHit> = {}): SearchHit => ({
  ref: { kind: 'item', id: 'EMB-4' },
  title: 'Ramps too far',
  detail: 'EMB-4',
  stair: null,
  found: null,
  ...given,
})
const find = (hitsOf: (q: string) => SearchHit[] = () => []) => {
  const closed: true[] = []
  const shown = show(<FindDialog isOpen onClose={() => closed.push(true)} />, {
    answers: { search: ({ query }) => ({ hits: hitsOf(query.q ?? '') }) },
    at: '/desk',
  })
  return { ...shown, closed }
}

test('without a word it leads to places', async () => {
  const { user, findByText, address, closed } = find()
  await user.click(await findByText('Go to Releases'))
  expect(address()).toBe('/releases')
  expect(closed).toHaveLength(1)
})

test('a word finds things, which open in their place; the keys alone suffice', async () => {
  const { user, findByText, getByRole, address, queryByText } = find((q) =>
    q === 'ramp' ? [aHit(), aHit({ ref: { kind: 'release', id: 'kiln@4.2.0' }, title: 'kiln 4.2.0', detail: 'release' })] : [],
  )
  await user.type(getByRole('combobox'), 'ramp')
  await findByText('Ramps too far')
  expect(queryByText('Go to Releases')).toBeNull()
  await user.keyboard('{ArrowDown}{Enter}')
  await waitFor(() => expect(address()).toBe('/releases/release~kiln%404.2.0'))
})

test('where the words stand is marked, in the title and in the text', async () => {
  const { user, findByText, getByRole } = find(() => [
    aHit({
      found: {
        key: 'EMB-4',
        title: ['Ramps ', 'too far'],
        excerpt: ['', 'burnt'],
        place: 'title',
      },
    }),
  ])
  await user.type(getByRole('combobox'), 'too far')
  expect((await findByText('too far')).tagName).toBe('MARK')
  expect((await findByText('burnt')).tagName).toBe('MARK')
})

test('what is to be done is found by its words, too; what nothing is called says so', async () => {
  const { user, findByText, getByRole, queryByText, closed } = find()
  await user.type(getByRole('combobox'), 'dark')
  await user.click(await findByText('Dark theme'))
  expect(document.documentElement.dataset.theme ?? 'dark').toBe('dark')
  expect(closed).toHaveLength(1)
  await user.type(getByRole('combobox'), 'zzz')
  await findByText(/Nothing is called that/)
  expect(queryByText('Dark theme')).toBeNull()
})

import { describe, expect, test } from '@jest/globals'
import type { Link } from '@dystracer/core/records/wire'
import type { UnexplainedCommit } from '@dystracer/core/ties/wire'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { TiesOf } from './TiesOf'
import { UnexplainedList } from './UnexplainedList'

const AT_MS = 1_770_000_000_000

function aCommit(sha: string, given: Partial<UnexplainedCommit> = {}): UnexplainedCommit {
  return {
    repository: 'kiln',
    sha: sha.repeat(40).slice(0, 40),
    subject: `Subject of ${sha}`,
    author: 'Rafe Lindqvist',
    atMs: AT_MS,
    items: [],
    files: ['src/relay.js'],
    proposals: [],
    ...given,
  }
}
const proposal = (key: string, isSure = false): UnexplainedCommit['proposals'][number] => ({
  key,
  title: `Title of ${key}`,
  likelihood01: isSure ? 0.95 : 0.4,
  isSure,
  reasons: ['words', 'files'],
  words: ['relay', 'opens'],
})

describe('commits without an item', () => {
  function shown(rows: UnexplainedCommit[], more: Answers = {}) {
    return show(<UnexplainedList />, {
      at: '/code~unexplained',
      answers: {
        readMe: () => aMe(),
        listUnexplained: () => ({ rows, nextCursor: null }),
        decideTies: ({ body }) => ({ done: body.decisions.length }),
        ...more,
      },
    })
  }

  test('say what each may be for, and why', async () => {
    const { findByRole } = shown([aCommit('a', { proposals: [proposal('EMB-4')] })])
    const row = await findByRole('option', { name: /Subject of a/ })
    expect(row.textContent).toContain('perhaps for EMB-4 Title of EMB-4 “relay, opens”, files of its other commits')
  })

  test('are tied by a key to the first proposal, and the next is chosen', async () => {
    const { user, findByRole, getByRole, bodiesOf, address } = shown([aCommit('a', { proposals: [proposal('EMB-4')] }), aCommit('b')])
    await user.click(await findByRole('option', { name: /Subject of a/ }))
    getByRole('listbox').focus()
    await user.keyboard('t')
    await waitFor(() => expect(bodiesOf('decideTies')).toEqual([{ decisions: [{ what: 'tie', sha: 'a'.repeat(40), key: 'EMB-4' }] }]))
    await waitFor(() => expect(address()).toContain('b'.repeat(40)))
  })

  test('are refused and let be by a key; what has no proposal is not tied', async () => {
    const { user, findByRole, getByRole, bodiesOf } = shown([aCommit('a'), aCommit('b', { proposals: [proposal('EMB-5')] })])
    await user.click(await findByRole('option', { name: /Subject of a/ }))
    getByRole('listbox').focus()
    await user.keyboard('t')
    expect(bodiesOf('decideTies')).toEqual([])
    await user.keyboard('n')
    await waitFor(() => expect(bodiesOf('decideTies')).toEqual([{ decisions: [{ what: 'needs-none', sha: 'a'.repeat(40) }] }]))
    await user.click(await findByRole('option', { name: /Subject of b/ }))
    await user.click(getByRole('button', { name: 'It is not for EMB-5' }))
    await waitFor(() =>
      expect(bodiesOf('decideTies').at(-1)).toEqual({ decisions: [{ what: 'refuse', sha: 'b'.repeat(40), key: 'EMB-5' }] }),
    )
  })

  test('that are sure are tied at once, repository by repository', async () => {
    const rows = [
      aCommit('a', { proposals: [proposal('EMB-4', true)] }),
      aCommit('b', { proposals: [proposal('EMB-5')] }),
      aCommit('c', { repository: 'glaze', proposals: [proposal('EMB-6', true)] }),
    ]
    const { user, findByRole, asked } = shown(rows)
    await user.click(await findByRole('button', { name: 'Tie them all' }))
    await waitFor(() => expect(asked.filter(({ name }) => name === 'decideTies')).toHaveLength(2))
    expect(asked.filter(({ name }) => name === 'decideTies').map(({ params, body }) => [params.repository, body])).toEqual([
      ['kiln', { decisions: [{ what: 'tie', sha: 'a'.repeat(40), key: 'EMB-4' }] }],
      ['glaze', { decisions: [{ what: 'tie', sha: 'c'.repeat(40), key: 'EMB-6' }] }],
    ])
  })

  test('are only read by whoever may not decide', async () => {
    const reader = { ...aMe(), person: { personId: 'wren', name: 'Wren', initials: 'W', role: 'reader' as const } }
    const { findByRole, queryByRole, queryByText } = shown([aCommit('a', { proposals: [proposal('EMB-4', true)] })], {
      readMe: () => reader,
    })
    await findByRole('option', { name: /Subject of a/ })
    expect(queryByRole('button', { name: 'Tie them all' })).toBeNull()
    expect(queryByText(/Choose a commit/)).toBeNull()
  })

  test('are none where every commit says what it is for', async () => {
    expect(await shown([]).findByText(/says what it is for/)).toBeTruthy()
  })
})

describe('what a piece of code is for', () => {
  const link: Link = {
    linkId: 'l1',
    kind: 'tied',
    from: { kind: 'item', id: 'EMB-4' },
    to: { kind: 'branch', id: 'kiln/fix/EMB-4' },
    provenance: 'branch-name',
    statedBy: null,
    source: null,
    atMs: AT_MS,
    isSuspect: false,
    title: 'Relay stays closed',
  }
  const shown = (rows: Link[], needsNone = false, more: Answers = {}) =>
    show(<TiesOf to={{ kind: 'commit', id: `kiln/${'a'.repeat(40)}` }} />, {
      answers: {
        readMe: () => aMe(),
        readTies: () => ({ rows, needsNone }),
        decideTies: () => ({ done: 1 }),
        ...more,
      },
    })

  test('names its items with what says so, and the tie can be undone there', async () => {
    const { user, findByRole, getByText, asked } = shown([link])
    await user.click(await findByRole('button', { name: 'Untie EMB-4' }))
    expect(getByText('named in the branch')).toBeTruthy()
    expect(asked.find(({ name }) => name === 'removeLink')?.params).toEqual({ key: 'EMB-4', linkId: 'l1' })
  })

  test('may be nothing, which is said', async () => {
    const { user, findByText, getByRole, bodiesOf } = shown([])
    await findByText('No item: nothing says why.')
    await user.click(getByRole('button', { name: 'It needs none' }))
    expect(bodiesOf('decideTies')).toEqual([{ decisions: [{ what: 'needs-none', sha: 'a'.repeat(40) }] }])
  })

  test('may be said to need nothing, which can be taken back', async () => {
    const { user, findByRole, getByText, bodiesOf } = shown([], true)
    await user.click(await findByRole('button', { name: 'It needs one after all' }))
    expect(getByText('It needs no item, somebody said.')).toBeTruthy()
    expect(bodiesOf('decideTies')).toEqual([{ decisions: [{ what: 'needs-one', sha: 'a'.repeat(40) }] }])
  })
})

import { describe, expect, test } from '@jest/globals'
import type { Repository } from '@dystracer/core/code/wire'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { aRepository } from '#shared/test/a-repository'
import { show, type Answers } from '#shared/test/shown'
import { Repositories, RepositoryLines } from './Repositories'

const branch = (name: string, isMain = false): Repository['branches'][number] => ({
  repository: 'kiln',
  name,
  sha: 'a'.repeat(40),
  atMs: 1,
  isMain,
  items: [],
  forcedAtMs: null,
})
const BRANCHES = [branch('main', true), branch('keep-4.1'), branch('trunk')]
const withBranches = (given: Partial<Repository> = {}) => aRepository({ branches: BRANCHES, ...given })
const answersFor = (row: Repository, changeRepository?: Answers['changeRepository']): Answers => ({
  readMe: () => aMe(),
  listRepositories: () => ({ rows: [row] }),
  ...(changeRepository && { changeRepository }),
})
const changed = { repository: 'kiln', mainBranch: 'main', longLines: [], isConnected: true, calledThere: 'kiln' }

describe('the main lines of a repository', () => {
  test('are chosen among its branches; the main one is no long-lived one beside itself', async () => {
    const page = show(<Repositories />, { answers: answersFor(withBranches({ longLines: ['keep-4.1'] }), () => changed) })
    await page.findByText(/, as long: keep-4.1/)
    await page.user.click(page.getByRole('button', { name: 'main lines: kiln' }))
    const dialog = page.getByRole('dialog', { name: 'Main lines of kiln' })
    expect([...dialog.querySelectorAll('input[type=checkbox]')].map((box) => (box as HTMLInputElement).value)).toEqual([
      'keep-4.1',
      'trunk',
    ])
    await page.user.click(page.getByLabelText('trunk'))
    await page.user.selectOptions(page.getByLabelText('The main line'), 'trunk')
    expect(page.queryByLabelText('trunk')).toBeNull()
    await page.user.click(page.getByRole('button', { name: 'These count' }))
    await waitFor(() => expect(page.queryByRole('dialog')).toBeNull())
    expect(page.bodiesOf('changeRepository')).toEqual([{ mainBranch: 'trunk', longLines: ['keep-4.1'] }])
  })

  test('that are not there are refused at their field, and the dialog stays', async () => {
    const refuse: Answers['changeRepository'] = () => ({ refused: 'invalid-input', fields: { mainBranch: 'kiln has no branch main' } })
    const page = show(<Repositories />, { answers: answersFor(withBranches(), refuse) })
    await page.user.click(await page.findByRole('button', { name: 'main lines: kiln' }))
    await page.user.click(page.getByRole('button', { name: 'These count' }))
    await page.findByText('kiln has no branch main')
    expect(page.getByRole('dialog')).toBeTruthy()
  })
})

describe('how a repository stands', () => {
  test.each([
    ['a host that is away', { trouble: 'kiln answered 503', retryAtMs: 5 }, /cannot be fetched: kiln answered 503; tried again/],
    ['a main line that is gone', { branches: [branch('trunk')] }, /its main line main is gone: nothing counts as merged any more/],
    ['one that is read no more', { disconnectedAtMs: 5 }, /read no more since/],
    ['a history that is being read', { reading: { words: 'Reading commits', done: 5, of: 9 } }, /Reading commits 5 of 9/],
    ['one that was never fetched', { fetchedAtMs: null, branches: [] }, /its history is being read/],
  ] satisfies [string, Partial<Repository>, RegExp][])('is said in words: %s', async (_what, given, words) => {
    const { findByText } = show(<RepositoryLines />, { answers: answersFor(withBranches(given)) })
    await findByText(words)
  })

  test('is one line for all that are calm', async () => {
    const rows = [withBranches(), withBranches({ repository: 'lid', commits: 7 })]
    const { findByText, container } = show(<RepositoryLines />, { answers: { readMe: () => aMe(), listRepositories: () => ({ rows }) } })
    await findByText(/commits, fetched/)
    expect(container.querySelectorAll('p')).toHaveLength(1)
  })

  test('is read no more, and read again, by who sets the project up; a member sees no way', async () => {
    const page = show(<Repositories />, {
      answers: answersFor(withBranches(), ({ body }) => ({ ...changed, isConnected: body.isConnected !== false })),
    })
    await page.user.click(await page.findByRole('button', { name: 'read no more: kiln' }))
    await waitFor(() => expect(page.bodiesOf('changeRepository')).toEqual([{ isConnected: false }]))
    page.unmount()
    const me = aMe()
    const member = show(<Repositories />, {
      answers: { ...answersFor(withBranches()), readMe: () => ({ ...me, person: me.person && { ...me.person, role: 'member' } }) },
    })
    await member.findByText('kiln')
    expect(member.queryByRole('button')).toBeNull()
  })
})

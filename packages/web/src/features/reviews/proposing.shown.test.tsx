import { describe, expect, jest, test } from '@jest/globals'
import { waitFor } from '@testing-library/react'
import type { PullRequestDetail } from '@dystracer/core/code/wire'
import type { Remark, Review } from '@dystracer/core/reviews/wire'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { GateTrial } from './GateTrial'
import { RemarkForm, type Remarked } from '#shared/diff/RemarkForm'
import { RemarkThread } from './RemarkThread'
import { ReviewFilesPane } from './ReviewFilesPane'
import { Reviewers } from './Reviewers'

const AT_MS = 1_770_000_000_000
const aRemark = (given: Partial<Remark> = {}): Remark => ({
  remarkId: 'r1',
  personId: 'rafe',
  atMs: AT_MS,
  text: 'The other way round.',
  place: { path: 'src/clock.js', line: 4, lastLine: 4, side: 'new', sha: 'a'.repeat(40) },
  now: { line: 4, lastLine: 4 },
  instead: '  return server - local',
  isSettled: false,
  settledBy: null,
  reactions: [],
  answers: [],
  ...given,
})
const aReview = (given: Partial<Review> = {}): Review => ({
  asked: [],
  verdicts: [],
  remarks: [],
  gates: [],
  atHost: null,
  canAgree: ['rafe'],
  wish: null,
  requirements: [],
  happened: [],
  ...given,
})

describe('a remark that is being written', () => {
  function shown(lines?: string) {
    const onWritten = jest.fn<(remark: Remarked) => void>()
    const onCancel = jest.fn()
    const page = show(<RemarkForm project="EMB" label="Remark" deed="Keep" lines={lines} onWritten={onWritten} onCancel={onCancel} />)
    return { ...page, onWritten, onCancel }
  }

  test('may propose what its line should be, which begins as the line is', async () => {
    const { user, getByRole, getByLabelText, onWritten } = shown('  return local - server')
    await user.click(getByRole('button', { name: 'Propose what it should be' }))
    const instead = getByLabelText('What should stand there instead') as HTMLTextAreaElement
    expect(instead.value).toBe('  return local - server')
    await user.clear(instead)
    await user.type(instead, 'return 0{Control>}{Enter}{/Control}')
    expect(onWritten.mock.calls).toEqual([[{ text: '', instead: 'return 0' }]])
  })

  test('is nothing without words, and proposes nothing where there is no line', async () => {
    const { user, getByRole, queryByRole, getByLabelText, onWritten, onCancel } = shown()
    expect((getByRole('button', { name: 'Keep' }) as HTMLButtonElement).disabled).toBe(true)
    expect(queryByRole('button', { name: 'Propose what it should be' })).toBeNull()
    await user.type(getByLabelText('Remark'), '  Why?  {Control>}{Enter}{/Control}')
    expect(onWritten.mock.calls).toEqual([[{ text: 'Why?', instead: null }]])
    await user.keyboard('{Escape}')
    expect(onCancel).toHaveBeenCalled()
  })
})

describe('a remark that proposes', () => {
  const shown = (remark: Remark, canWrite = true) =>
    show(<RemarkThread id="kiln/14" remark={remark} canWrite={canWrite} />, {
      answers: { readMe: () => aMe(), takeProposed: () => aReview() },
    })

  test('shows the other lines, and is taken by a click', async () => {
    const { user, findByRole, getByText, asked } = shown(aRemark())
    expect(getByText('return server - local')).toBeTruthy()
    await user.click(await findByRole('button', { name: 'Take it into the change' }))
    expect(asked.find(({ name }) => name === 'takeProposed')).toMatchObject({
      params: { repository: 'kiln', number: '14' },
      body: { remarkIds: ['r1'] },
    })
  })

  test.each([
    ['its lines are gone', aRemark({ now: null }), true],
    ['it proposes nothing', aRemark({ instead: null }), true],
    ['whoever looks may not write', aRemark(), false],
  ] as const)('is not taken where %s', async (_why, remark, canWrite) => {
    const { findByText, queryByRole } = shown(remark, canWrite)
    await findByText('The other way round.')
    expect(queryByRole('button', { name: 'Take it into the change' })).toBeNull()
  })
})

test('a remark stands nowhere before its line is known, so that an answer to it is not lost', async () => {
  let tellDiff: (diff: { diff: string; isCut: boolean }) => void = () => {}
  const pullRequest: PullRequestDetail = {
    repository: 'kiln',
    number: 14,
    title: 'Keep the clock',
    state: 'open',
    isDraft: false,
    author: 'Tam Adeyemi',
    head: 'clock',
    base: 'main',
    headSha: 'a'.repeat(40),
    mergeSha: null,
    createdAtMs: AT_MS,
    updatedAtMs: AT_MS,
    items: [],
    build: null,
    body: '',
    commits: [],
    isOurs: true,
    missing: null,
  }
  const { user, findByText, findByRole, findByLabelText, queryByText, asked } = show(<ReviewFilesPane id="kiln/14" />, {
    answers: {
      readMe: () => aMe(),
      readPullRequestOf: () => pullRequest,
      readReview: () => aReview({ remarks: [aRemark({ instead: null })] }),
      readChangedCoverage: () => ({ build: null, files: [], covered: 0, missed: 0, isCut: false }),
      readPullRequestDiff: () => new Promise((resolve) => (tellDiff = resolve)),
    },
  })
  await waitFor(() => expect(asked.map(({ name }) => name)).toEqual(expect.arrayContaining(['readReview', 'readPullRequestDiff'])))
  expect(queryByText('The other way round.')).toBeNull()
  tellDiff({
    diff: 'diff --git a/src/clock.js b/src/clock.js\n--- a/src/clock.js\n+++ b/src/clock.js\n@@ -3,2 +3,2 @@\n one\n-two\n+three\n',
    isCut: false,
  })
  expect((await findByText('The other way round.')).closest('figure')?.textContent).toContain('src/clock.js')
  await user.click(await findByRole('button', { name: 'Answer…' }))
  await user.type(await findByLabelText('Your answer'), 'Right.')
})

test('whom to ask is proposed with why, and asked by a click', async () => {
  const { user, findByRole, bodiesOf } = show(<Reviewers id="kiln/14" review={aReview()} canAsk />, {
    answers: {
      readMe: () => aMe(),
      listReviewerProposals: () => ({ rows: [{ personId: 'rafe', owned: ['src/relay.js', 'src/door.js'], commits: 4, waiting: 1 }] }),
      askReview: () => aReview(),
    },
  })
  const list = await findByRole('list', { name: 'Whom to ask' })
  const ask = await findByRole('button', { name: 'ask Rafe Lindqvist' })
  expect(list.textContent).toContain('looks after src/relay.js and 1 more; made 4 commits of these files; 1 change waits already')
  await user.click(ask)
  expect(bodiesOf('askReview')).toEqual([{ personId: 'rafe', isOn: true }])
})

test('gates tell what each would have stopped, and whether that did harm', async () => {
  const { findByText, container } = show(<GateTrial repository="kiln" />, {
    answers: {
      readMe: () => aMe(),
      tryMergeGates: () => ({
        merges: 12,
        harmful: [7],
        rows: [
          { code: 'agreements', needs: 1, stopped: [9, 7], harmful: [7] },
          { code: 'item', needs: 0, stopped: [], harmful: [] },
          { code: 'coverage', needs: 80, stopped: [9], harmful: [] },
        ],
      }),
    },
  })
  await findByText(/Of the newest 12 merges, 1 later turned out/)
  expect(container.textContent).toContain('one person agrees2 merges1 that did harm: ')
  expect(container.textContent).toContain('an item is tiednonenone of the harmful ones')
  expect(container.textContent).toContain('tests run 80 of a hundred lines that it brings1 merge')
})

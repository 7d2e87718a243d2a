import { beforeEach, expect, test } from '@jest/globals'
import { waitFor, within } from '@testing-library/react'
import type { CommitRemark, Remark, Review } from '@dystracer/core/reviews/wire'
import type { ChangePart, WholeChange } from '@dystracer/core/whole-change/wire'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { WholeChangePane } from './WholeChangePane'

const AT_MS = 1_770_000_000_000
const [FIRST, SECOND, OPEN] = ['1', '2', '3'].map((digit) => digit.repeat(40)) as [string, string, string]
const diffOf = (path: string, before: string, after: string) =>
  `diff --git a/${path} b/${path}\n--- a/${path}\n+++ b/${path}\n@@ -1,1 +1,1 @@\n-${before}\n+${after}\n`
const aCommit = (sha: string, given: Partial<ChangePart['commits'][number]> = {}) => ({
  sha,
  subject: `Commit ${sha[0]}`,
  author: 'Tam Adeyemi',
  atMs: AT_MS,
  isOnMain: true,
  pullRequest: null,
  ...given,
})
const PLANNER: ChangePart = {
  repository: 'planner',
  commits: [aCommit(OPEN, { isOnMain: false, pullRequest: 7 })],
  leftOut: [],
  pullRequests: [{ number: 7, title: 'Ask the clock', state: 'open' }],
  sheets: [{ diff: diffOf('src/ask.js', 'ask()', 'askClock()'), isCut: false }],
  strands: [{ path: 'src/ask.js', sheet: 0, shas: [OPEN], pullRequest: 7 }],
  trouble: null,
}
const KILN: ChangePart = {
  repository: 'kiln',
  commits: [aCommit(FIRST), aCommit(SECOND)],
  leftOut: [{ sha: OPEN, subject: 'The same on the line', author: 'Tam Adeyemi', atMs: AT_MS, why: 'same', of: FIRST }],
  pullRequests: [],
  sheets: [
    { diff: diffOf('src/clock.js', 'one', 'two'), isCut: false },
    { diff: diffOf('src/clock.js', 'theirs', 'three'), isCut: false },
  ],
  strands: [
    { path: 'src/clock.js', sheet: 0, shas: [FIRST], pullRequest: null },
    { path: 'src/clock.js', sheet: 1, shas: [SECOND], pullRequest: null },
  ],
  trouble: null,
}
const aWhole = (parts: ChangePart[] = [KILN, PLANNER]): WholeChange => ({ key: 'EMB-150', title: 'Keep the clock', parts, isShort: false })
const aReview = (remarks: Remark[] = []): Review => ({
  asked: [],
  verdicts: [],
  remarks,
  gates: [],
  atHost: null,
  canAgree: [],
  wish: null,
  requirements: [],
  happened: [],
})
const common: Answers = {
  readMe: () => aMe(),
  readReview: () => aReview(),
  listCommitRemarks: () => ({ rows: [] }),
}
const shown = (answers: Answers = {}, whole = aWhole()) =>
  show(<WholeChangePane id="EMB-150" />, { answers: { ...common, readWholeChange: () => whole, ...answers } })

// The marks “seen” are kept in the browser.
beforeEach(() => localStorage.clear())

test('all files of all repositories stand in one list; what came after others says so, and what adds nothing says why', async () => {
  const { user, findByText, findByRole, getByRole, getAllByRole } = shown()
  await findByText('3 files in 2 repositories, 0 seen')
  const figures = getAllByRole('figure')
  expect(figures.map((figure) => within(figure).getByRole('checkbox').getAttribute('aria-label'))).toEqual([
    'seen: src/clock.js',
    'seen: src/clock.js',
    'seen: src/ask.js',
  ])
  expect(figures[1]?.textContent).toContain('once more, after others changed it')
  await user.click(getByRole('button', { name: '2 commits, 1 more that add nothing' }))
  expect((await findByRole('list', { name: 'Commits in kiln' })).textContent).toContain('the same change as 1111111')
  // The mark is for this file alone, though another has the same path.
  await user.click(within(figures[0] as HTMLElement).getByRole('checkbox'))
  await findByText('3 files in 2 repositories, 1 seen')
  expect(figures[1]?.textContent).toContain('three')
})

test('a remark goes to the pull request that brings the line, and what is found is sent to all of them at once', async () => {
  const secondPart: ChangePart = {
    ...PLANNER,
    repository: 'lid',
    pullRequests: [{ number: 2, title: 'Close by the clock', state: 'open' }],
    commits: [aCommit(OPEN, { isOnMain: false, pullRequest: 2 })],
    strands: [{ path: 'src/ask.js', sheet: 0, shas: [OPEN], pullRequest: 2 }],
  }
  let isRefusing = true
  const { user, findByRole, getByRole, findByText, findByLabelText, container, bodiesOf, asked } = shown(
    {
      giveReview: ({ params }) =>
        params.number === '2' && isRefusing ? { refused: 'invalid-input', detail: 'You wrote part of it.' } : aReview(),
    },
    aWhole([PLANNER, secondPart]),
  )
  await findByText('2 files in 2 repositories, 0 seen')
  await user.click(container.querySelector('.diff-gutter-insert') as Element)
  await user.type(await findByLabelText('Remark on line 1 of src/ask.js'), 'Which clock?')
  await user.click(getByRole('button', { name: 'Keep for the review' }))
  await user.click(getByRole('button', { name: 'Say what you found…' }))
  const dialog = await findByRole('dialog', { name: 'Say what you found in EMB-150' })
  expect(within(dialog).getByRole('checkbox', { name: /planner\/7.*with 1 remark/ })).toBeTruthy()
  await user.click(within(dialog).getByRole('radio', { name: 'It needs changes before it may be merged' }))
  await user.type(within(dialog).getByLabelText('In words'), 'Say which clock.')
  await user.click(within(dialog).getByRole('button', { name: 'Send' }))
  await within(dialog).findByText(/You wrote part of it/)
  isRefusing = false
  await user.click(within(dialog).getByRole('button', { name: 'Send' }))
  await waitFor(() => expect(bodiesOf('giveReview')).toHaveLength(3))
  // The one that took it is not told twice.
  expect(asked.filter(({ name }) => name === 'giveReview').map(({ params }) => `${params.repository}/${params.number}`)).toEqual([
    'planner/7',
    'lid/2',
    'lid/2',
  ])
  expect(bodiesOf('giveReview')[0]).toMatchObject({
    verdict: 'changes-asked',
    words: 'Say which clock.',
    remarks: [{ text: 'Which clock?', place: { path: 'src/ask.js', side: 'new', line: 1, lastLine: 1 } }],
  })
})

test('where nothing is open, a remark goes to the last commit that changed the line, and stands there', async () => {
  const remarks: CommitRemark[] = []
  const aRemark: CommitRemark = {
    remarkId: 'r1',
    personId: 'rafe',
    atMs: AT_MS,
    text: 'Two of what?',
    place: { path: 'src/clock.js', side: 'new', line: 1, lastLine: 1 },
    isSettled: false,
    settledBy: null,
    reactions: [],
    answers: [],
  }
  const { user, findByText, findByLabelText, getByRole, queryByRole, container, asked } = shown(
    {
      listCommitRemarks: () => ({ rows: remarks }),
      remarkOnCommit: () => {
        remarks.push(aRemark)
        return { rows: remarks }
      },
    },
    aWhole([{ ...KILN, sheets: KILN.sheets.slice(0, 1), strands: KILN.strands.slice(0, 1) }]),
  )
  await findByText('1 file in 1 repository, 0 seen')
  expect(queryByRole('button', { name: 'Say what you found…' })).toBeNull()
  await user.click(container.querySelector('.diff-gutter-insert') as Element)
  await user.type(await findByLabelText('Remark on line 1 of src/clock.js'), 'Two of what?')
  await user.click(getByRole('button', { name: 'Remark' }))
  await findByText('Two of what?')
  expect(asked.find(({ name }) => name === 'remarkOnCommit')).toMatchObject({
    params: { repository: 'kiln', sha: FIRST },
    body: { text: 'Two of what?', place: { path: 'src/clock.js', side: 'new', line: 1, lastLine: 1 } },
  })
})

test('the left side can be remarked on only where whoever hears it has it so, too', async () => {
  const { user, findByText, queryByLabelText, container } = shown(
    {},
    aWhole([
      { ...KILN, sheets: KILN.sheets.slice(0, 1), strands: [{ path: 'src/clock.js', sheet: 0, shas: [FIRST, SECOND], pullRequest: null }] },
    ]),
  )
  await findByText('1 file in 1 repository, 0 seen')
  await user.click(container.querySelector('.diff-gutter-delete') as Element)
  expect(queryByLabelText(/^Remark on line/)).toBeNull()
})

test('a repository that is not here says so', async () => {
  const { findByText } = shown({}, aWhole([{ ...KILN, sheets: [], strands: [], trouble: 'These commits of kiln are not here yet.' }]))
  await findByText('These commits of kiln are not here yet.')
})

test('an item without code says what to do', async () => {
  const { findByText, queryByText } = shown({}, aWhole([]))
  await findByText(/Nothing in code is tied to it yet/)
  expect(queryByText(/choose a line’s number/)).toBeNull()
})

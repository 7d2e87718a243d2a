import { expect, test } from '@jest/globals'
import type { FailureDetail, Failures, FailureGroup, TestRecord } from '@dystracer/core/builds/wire'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { FailureGroups } from './FailureGroups'
import { testId } from './TestLink'
import { TestPane } from './TestPane'

const aRecord = (more: Partial<TestRecord> = {}): TestRecord => ({
  repository: 'kiln',
  suite: 'panel',
  name: 'draws a line',
  verifies: ['SAF-7'],
  outcomes: [{ number: 7, build: '7', branch: 'main', atMs: 7, outcome: 'failed', durationMs: 340 }],
  flaky: { count: 0, of: 12, share: 0, from: 0, to: 0.24 },
  mending: null,
  aside: null,
  failures: [],
  file: 'test/panel.test.js',
  ownerIds: ['ines'],
  conditions: [
    { by: 'machine', value: 'south', share: { count: 6, of: 6, share: 1, from: 0.61, to: 1 }, standsOut: true },
    { by: 'machine', value: 'north', share: { count: 0, of: 6, share: 0, from: 0, to: 0.39 }, standsOut: false },
    { by: 'order', value: 'early', share: { count: 0, of: 6, share: 0, from: 0, to: 0.39 }, standsOut: false },
    { by: 'order', value: 'late', share: { count: 0, of: 6, share: 0, from: 0, to: 0.39 }, standsOut: false },
  ],
  formerly: [{ suite: 'old panel', name: 'draws', until: 6, untilBuild: '6' }],
  medianMs: 340,
  change: null,
  ...more,
})

test('a test says where it stands, who looks after that, what it was called, and on what its failing hangs', async () => {
  const id = testId('kiln', { suite: 'panel', name: 'draws a line' })
  const { findByRole, getByText, queryByText } = show(<TestPane id={id} />, {
    answers: { readMe: () => aMe(), readTestRecord: () => aRecord(), listPinnedCharts: () => ({ charts: [] }) },
  })
  const hangs = await findByRole('region', { name: 'What it hangs on' })
  const [first, second, ...others] = [...hangs.querySelectorAll('tr')].map((row) => row.textContent)
  expect(first).toContain('on southdid not pass in 6 of 6 runs100 % (61 % to 100 %)')
  expect(second).toContain('on north')
  // What it never failed under says nothing.
  expect(others).toEqual([])
  getByText(/which .* looks after/)
  getByText(/it was “draws” in old panel/)
  expect(queryByText(/proves no requirement/)).toBeNull()
})

const aGroup = (name: string, isMine: boolean): FailureGroup => ({
  tests: [{ suite: 'panel', name, message: 'no', verifies: [] }],
  place: null,
  since: { number: 7, name: '7', atMs: 7, passedBefore: 3 },
  canBisect: false,
  strip: [],
  suspects: [],
  isMine,
  onIt: null,
})
const NOTHING_READ: FailureDetail = { expected: null, actual: null, frames: [], code: null, attempts: [] }
const failures = (...groups: FailureGroup[]): Failures => ({ groups, flaky: [], aside: [] })

test('one key leaves what one’s own commits may have broken, and brings back the rest', async () => {
  const { user, findByRole, queryByText, getByText } = show(
    <FailureGroups id="kiln/7" repository="kiln" failures={failures(aGroup('theirs', false), aGroup('mine', true))} />,
    { answers: { readMe: () => aMe(), readFailure: () => NOTHING_READ } },
  )
  await findByRole('button', { name: 'only what my commits may have broken' })
  getByText('1 of 2')
  await user.keyboard('m')
  expect(queryByText(/One fails.*theirs/)).toBeNull()
  getByText(/One fails.*mine/)
  await user.keyboard('m')
  getByText(/One fails.*theirs/)
})

test('of very many groups only the first are read closely without being asked for', async () => {
  const groups = Array.from({ length: 10 }, (_, at) => aGroup(`fails ${at}`, false))
  const { user, findByRole, queryByRole, asked } = show(<FailureGroups id="kiln/7" repository="kiln" failures={failures(...groups)} />, {
    answers: { readMe: () => aMe(), readFailure: () => NOTHING_READ },
  })
  await user.click(await findByRole('button', { name: 'read it closely: fails 9' }))
  await waitFor(() => expect(asked.filter(({ name }) => name === 'readFailure')).toHaveLength(9))
  expect(queryByRole('button', { name: 'read it closely: fails 7' })).toBeNull()
})

test('where none of it is one’s own there is nothing to leave', async () => {
  const { user, findByRole, getByText } = show(
    <FailureGroups id="kiln/7" repository="kiln" failures={failures(aGroup('first', false), aGroup('other', false))} />,
    { answers: { readMe: () => aMe(), readFailure: () => NOTHING_READ } },
  )
  const button = await findByRole('button', { name: 'only what my commits may have broken' })
  expect(button.hasAttribute('disabled')).toBe(true)
  await user.keyboard('m')
  getByText(/One fails.*first/)
  getByText('none of it, as far as is known')
})

test('a failure is read closely: what was expected, the lines around it, the test itself, other builds of the commit', async () => {
  const lines = ['function spread(zones) {', '  return Math.max(...zones)', '}']
  const { findByText, getByText, container } = show(
    <FailureGroups id="kiln/7" repository="kiln" failures={failures(aGroup('spreads', true))} />,
    {
      answers: {
        readMe: () => aMe(),
        readFailure: ({ params, query }) => {
          expect([params, query]).toEqual([
            { repository: 'kiln', number: '7' },
            { suite: 'panel', name: 'spreads' },
          ])
          return {
            expected: 'kiln 4 is warm',
            actual: 'kiln 4 is cold',
            frames: [{ function: 'spread', path: 'src/zones.js', line: 4, source: { from: 3, lines } }],
            code: { path: 'test/zones.test.js', from: 9, lines: ["test('spreads')"] },
            attempts: [{ number: 8, name: '8', outcome: 'passed' }],
          }
        },
      },
    },
  )
  await findByText('expected')
  expect([container.querySelector('ins')?.textContent, container.querySelector('del')?.textContent]).toEqual(['warm', 'cold'])
  expect(container.querySelector('figure div.bg-fault-soft')?.textContent).toContain('Math.max(...zones)')
  expect(getByText(/the code of the test/).closest('details')?.textContent).toContain("test('spreads')")
  getByText(/Of the same commit/)
})

import { describe, expect, test } from '@jest/globals'
import type { CaseDetail, CaseResult, PlanDetail } from '@dystracer/core/cases/wire'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { CasePane } from './CasePane'
import { nextOpen } from './next-open'
import { PlanPane } from './PlanPane'
import { RunPane } from './RunPane'

const result = (more: Partial<CaseResult> = {}): CaseResult => ({
  resultId: 'r1',
  planId: 'p1',
  planName: 'October',
  release: null,
  number: 1,
  environment: 'kiln 4',
  outcome: 'passed',
  revision: 1,
  isStale: false,
  step: null,
  words: '',
  item: null,
  by: 'person:ines',
  atMs: 1,
  ...more,
})
const aCase = (more: Partial<CaseDetail> = {}): CaseDetail => ({
  project: 'EMB',
  number: 1,
  title: 'Open the lid',
  text: '',
  steps: [
    { do: 'Heat it', expect: 'It heats' },
    { do: 'Open the lid', expect: 'It stops' },
  ],
  verifies: ['SAF-7'],
  revision: 1,
  isRetired: false,
  last: null,
  revisions: [],
  results: [],
  ...more,
})
const aPlan = (more: Partial<PlanDetail> = {}): PlanDetail => ({
  project: 'EMB',
  planId: 'p1',
  name: 'October',
  release: null,
  environments: ['kiln 4', 'kiln 5'],
  cases: [{ number: 1, title: 'Open the lid', steps: 2, verifies: [], revision: 1, isRetired: false }],
  progress: { passed: 0, failed: 0, blocked: 0, skipped: 0, open: 2 },
  results: [],
  signed: null,
  atMs: 1,
  ...more,
})

describe('a case that is done', () => {
  const running = () =>
    show(<RunPane id="EMB/p1/1/kiln 4" />, {
      at: '/run~EMB,p1,1,kiln 4',
      answers: { readMe: () => aMe(), readCase: () => aCase(), readTestPlan: () => aPlan(), doCase: () => aPlan({ results: [result()] }) },
    })

  test('goes from step to step by keys; back takes a step back', async () => {
    const { user, findByRole, findByText, queryByText, bodiesOf } = running()
    const steps = await findByRole('list', { name: /^Steps/ })
    steps.focus()
    await user.keyboard('pp')
    expect(await findByText('passed')).toBeTruthy()
    steps.focus()
    await user.keyboard('b')
    expect(queryByText('passed')).toBeNull()
    await user.keyboard('p')
    await user.click(await findByRole('button', { name: 'Save it, and go on' }))
    await findByRole('list', { name: /^Steps/ })
    expect(bodiesOf('doCase')).toMatchObject([
      { number: 1, environment: 'kiln 4', revision: 1, outcome: 'passed', step: null, logsDefect: false },
    ])
  })

  test('that fails asks what was seen, and logs it unless it is known already', async () => {
    const { user, findByRole, findByLabelText, findByText, bodiesOf } = running()
    await user.click(await findByRole('button', { name: 'it did not: step 1' }))
    expect(await findByText(/at step 1/)).toBeTruthy()
    await user.type(await findByLabelText('What you saw'), 'It stays cold')
    await user.click(await findByRole('checkbox', { name: /log it as a defect/ }))
    await user.type(await findByLabelText('It is known as'), 'EMB-7')
    await user.click(await findByRole('button', { name: 'Save it, and go on' }))
    await findByRole('list', { name: /^Steps/ })
    expect(bodiesOf('doCase')).toMatchObject([{ outcome: 'failed', step: 1, words: 'It stays cold', item: 'EMB-7', logsDefect: false }])
  })
})

test('a plan shows what came of each place, leads to the next open one, and is signed once nothing is open', async () => {
  const failed = result({ outcome: 'failed', item: 'EMB-9' })
  const stale = result({ resultId: 'r2', environment: 'kiln 5', isStale: true })
  const held = { plan: aPlan({ results: [failed, stale] }) }
  const { user, findByRole, findByText, bodiesOf } = show(<PlanPane id="EMB/p1" />, {
    at: '/test-plan~EMB,p1',
    answers: {
      readMe: () => aMe(),
      readTestPlan: () => held.plan,
      signTestPlan: () => {
        held.plan = { ...held.plan, signed: { by: 'person:ines', atMs: 2, words: '' } }
        return held.plan
      },
    },
  })
  expect(await findByRole('link', { name: /failed.*case 1 in kiln 4/ })).toBeTruthy()
  expect(await findByRole('link', { name: /open again.*case 1 in kiln 5/ })).toBeTruthy()
  expect(await findByRole('link', { name: 'EMB-9' })).toBeTruthy()
  expect(nextOpen(held.plan)).toEqual({ number: 1, environment: 'kiln 5' })
  expect((await findByRole('button', { name: 'Stand for it' })).hasAttribute('disabled')).toBe(true)
  held.plan = aPlan({ results: [failed], progress: { passed: 0, failed: 1, blocked: 0, skipped: 0, open: 0 } })
  expect(nextOpen(aPlan({ environments: ['kiln 4'], results: [result()] }))).toBeNull()
  expect(bodiesOf('signTestPlan')).toEqual([])
  await user.click(await findByRole('button', { name: 'Change the plan…' }))
  expect(await findByText(/1 case chosen/)).toBeTruthy()
})

test('a case says what it verifies and what people found, of which text', async () => {
  const { findByText, findByRole } = show(<CasePane id="EMB/1" />, {
    at: '/case~EMB,1',
    answers: { readMe: () => aMe(), readCase: () => aCase({ revision: 2, results: [result({ isStale: true, words: 'All well' })] }) },
  })
  expect(await findByRole('link', { name: 'SAF-7' })).toBeTruthy()
  expect(await findByText('All well')).toBeTruthy()
  expect(await findByText(/of revision 1/)).toBeTruthy()
})

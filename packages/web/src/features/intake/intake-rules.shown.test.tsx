import { describe, expect, test } from '@jest/globals'
import { PLAIN_DEED } from '@dystracer/core/faults/intake-rule'
import type { FiredRow, IntakeRuleInput, IntakeRuleRow, IntakeRules as Rules, RuleRecord } from '@dystracer/core/faults/intake-wire'
import { waitFor } from '@testing-library/react'
import { Toaster } from 'sonner'
import { aMe, aSetup } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { IntakeRules } from './IntakeRules'
import { RulePane } from './RulePane'

const AT_MS = 1_770_000_000_000
const aRule = (given: Partial<IntakeRuleRow> = {}): IntakeRuleRow => ({
  ruleId: 'live-faults',
  name: 'Live faults',
  environmentKind: 'production',
  severityAtLeast: 'error',
  countAtLeast: 3,
  windowMinutes: 60,
  peopleAtLeast: 0,
  where: '',
  deed: { ...PLAIN_DEED, labels: [], tellIds: [] },
  perHour: null,
  perDay: null,
  goesOn: false,
  isDraft: false,
  fired: 0,
  lastFiredAtMs: null,
  week: { logged: 0, gathered: 0, other: 0 },
  warnings: [],
  ...given,
})
const wren = aMe({ person: { personId: 'wren', name: 'Wren Abara', initials: 'WA', role: 'reader' } })

/** A server that keeps the rules and the budget that it is told. */
function aServer(rules: IntakeRuleRow[], given: Answers = {}) {
  let state: Rules = { rows: rules, budget: { perHour: null, perDay: 10, usedHour: 1, usedDay: 10 } }
  const now = () => state
  const answers: Answers = {
    readMe: () => aMe(),
    readSetup: () => aSetup(),
    listServices: () => ({ rows: [], unknown: [] }) as never,
    readReleaseBoard: () => ({ hasDeployer: false, environments: [], services: [] }),
    listIntakeRules: now,
    readIntakeRule: ({ params }) => aRecord(state.rows.find((row) => row.ruleId === params.ruleId) ?? aRule()),
    orderIntakeRules: ({ body }) => {
      state = { ...state, rows: body.ruleIds.flatMap((id) => state.rows.filter((row) => row.ruleId === id)) }
      return state
    },
    setIntakeRule: ({ params, body }) => {
      const row = { ...aRule(), ...(body as IntakeRuleInput), ruleId: params.ruleId ?? '' }
      const isThere = state.rows.some((one) => one.ruleId === row.ruleId)
      state = { ...state, rows: isThere ? state.rows.map((one) => (one.ruleId === row.ruleId ? row : one)) : [...state.rows, row] }
      return state
    },
    setIntakeBudget: ({ body }) => {
      state = { ...state, budget: { ...state.budget, perHour: body.perHour, perDay: body.perDay } }
      return state
    },
    removeIntakeRule: ({ params }) => {
      state = { ...state, rows: state.rows.filter((row) => row.ruleId !== params.ruleId) }
      return state
    },
    ...given,
  }
  return { answers, ids: () => state.rows.map((row) => row.ruleId) }
}
const fired = (given: Partial<FiredRow> = {}): FiredRow => ({
  fault: 'F-3',
  service: 'kiln',
  type: 'TypeError',
  message: 'no probe',
  outcome: 'logged',
  atMs: AT_MS,
  environment: 'production',
  count: 5,
  people: 2,
  release: '1.1.0',
  key: 'EMB-4',
  judgement: 'rejected',
  words: 'cannot reproduce',
  ...given,
})
const aRecord = (rule: IntakeRuleRow, given: Partial<RuleRecord> = {}): RuleRecord => ({
  rule,
  sinceMs: null,
  taken: 0,
  rejected: 0,
  waiting: 0,
  weeks: [],
  rows: [],
  proposal: null,
  ...given,
})
const rules = (server: ReturnType<typeof aServer>) =>
  show(
    <>
      <IntakeRules />
      <Toaster />
    </>,
    { answers: server.answers, at: '/settings~errors' },
  )

describe('the list of intake rules', () => {
  test('says of each what it does, what it did this week, and what speaks against it', async () => {
    const server = aServer([
      aRule({ fired: 4, lastFiredAtMs: AT_MS, week: { logged: 2, gathered: 1, other: 0 }, warnings: ['It fires on everything.'] }),
      aRule({ ruleId: 'second', name: 'Second', isDraft: true }),
    ])
    const { findByText, getByText, getAllByText } = rules(server)
    await findByText(/this week it logged 2 items, gathered 1 fault beyond the budget; fired 4 times/)
    getByText('It fires on everything.')
    getByText('draft, does nothing')
    getByText('has not fired')
    expect(getAllByText(/^Live faults$|^Second$/)).toHaveLength(2)
  })

  test('is ordered by keys, copied as a draft that opens, and gives back what was removed in its place', async () => {
    const server = aServer([aRule(), aRule({ ruleId: 'second', name: 'Second' })])
    const { user, findByRole, getByRole, bodiesOf, address } = rules(server)
    expect(((await findByRole('button', { name: 'Move Live faults up' })) as HTMLButtonElement).disabled).toBe(true)
    await user.click(getByRole('button', { name: 'Move Live faults down' }))
    await waitFor(() => expect(server.ids()).toEqual(['second', 'live-faults']))
    await user.click(getByRole('button', { name: 'Remove Second' }))
    await user.click(await findByRole('button', { name: 'Take back' }))
    await waitFor(() => expect(server.ids()).toEqual(['second', 'live-faults']))
    await user.click(getByRole('button', { name: 'Copy Live faults' }))
    await waitFor(() => expect(address()).toBe('/settings~errors/rule~EMB,copy-of-live-faults'))
    expect(bodiesOf('setIntakeRule').at(-1)).toMatchObject({ name: 'Copy of Live faults', isDraft: true, countAtLeast: 3 })
  })

  test('has one budget: it says when it is used up, and is saved only where it changed', async () => {
    const server = aServer([aRule()])
    const { user, findByLabelText, getByRole, getByText, queryByRole, bodiesOf } = rules(server)
    const perHour = await findByLabelText('Items an hour, of all rules')
    expect(getByText('1 in the last hour, 10 in the last day.').className).toContain('text-fault')
    expect(queryByRole('button', { name: 'Save the budget' })).toBeNull()
    await user.type(perHour, '4')
    await user.click(getByRole('button', { name: 'Save the budget' }))
    await waitFor(() => expect(bodiesOf('setIntakeBudget')).toEqual([{ perHour: 4, perDay: 10 }]))
  })

  test('is empty with words, and changed by nobody who may only read', async () => {
    const empty = rules(aServer([]))
    await empty.findByText('None yet: faults become items by hand.')
    await empty.findByRole('button', { name: 'New rule…' })
    empty.unmount()
    const reader = rules(aServer([aRule()], { readMe: () => wren }))
    await reader.findByText('Live faults')
    for (const name of ['New rule…', 'Copy Live faults', 'Remove Live faults']) expect(reader.queryByRole('button', { name })).toBeNull()
    expect((reader.getByLabelText('Items a day, of all rules') as HTMLInputElement).matches(':disabled')).toBe(true)
  })
})

describe('an intake rule', () => {
  test('that is new needs a name, and opens at its own address once it holds', async () => {
    const server = aServer([aRule()])
    const { user, findByRole, findByText, getByLabelText, bodiesOf, address } = show(<RulePane id="EMB/new" />, {
      answers: server.answers,
      at: '/rule~EMB,new',
    })
    await user.click(await findByRole('button', { name: 'Let it hold' }))
    await findByText('It needs a name.')
    expect(bodiesOf('setIntakeRule')).toEqual([])
    await user.type(getByLabelText('Name'), 'Night faults')
    await user.click(await findByRole('button', { name: 'Let it hold' }))
    await waitFor(() => expect(address()).toBe('/rule~EMB,night-faults'))
    expect(bodiesOf('setIntakeRule')).toEqual([expect.objectContaining({ name: 'Night faults', isDraft: false })])
    expect(server.ids()).toEqual(['live-faults', 'night-faults'])
  })

  test('may open an incident, as severe as it says', async () => {
    const server = aServer([aRule()])
    const { user, findByText, findByLabelText, getByLabelText, getByRole, queryByLabelText, bodiesOf } = show(
      <RulePane id="EMB/live-faults" />,
      { answers: server.answers, at: '/rule~EMB,live-faults' },
    )
    await findByText('1 of 1')
    await user.selectOptions(await findByLabelText('What is done'), 'open an incident')
    expect(queryByLabelText('Owner')).toBeNull()
    await user.selectOptions(getByLabelText('Severity'), '1')
    await user.click(getByRole('button', { name: /^Let it hold|^Keep|^Let the change/ }))
    await waitFor(() => expect(bodiesOf('setIntakeRule')).toHaveLength(1))
    expect(bodiesOf('setIntakeRule')).toEqual([
      expect.objectContaining({ deed: expect.objectContaining({ act: 'incident', severity: 1 }) }),
    ])
  })

  test('may say what its items say, with room for what is known', async () => {
    const server = aServer([aRule()])
    const { user, findByText, findByLabelText, getByLabelText, getByRole, queryByLabelText, bodiesOf } = show(
      <RulePane id="EMB/live-faults" />,
      { answers: server.answers, at: '/rule~EMB,live-faults' },
    )
    await findByText('1 of 1')
    expect(queryByLabelText('Text of the item')).toBeNull()
    await user.selectOptions(await findByLabelText('What the item says'), 'a text of its own')
    const box = getByLabelText('Text of the item') as HTMLTextAreaElement
    expect(box.value).toContain('{report}')
    await user.clear(box)
    await user.type(box, 'Ask the kiln team about {{message}')
    await user.click(getByRole('button', { name: /^Let it hold|^Keep|^Let the change/ }))
    await waitFor(() => expect(bodiesOf('setIntakeRule')).toHaveLength(1))
    expect(bodiesOf('setIntakeRule')).toEqual([
      expect.objectContaining({ deed: expect.objectContaining({ act: 'log', text: 'Ask the kiln team about {message}' }) }),
    ])
  })

  test('that was changed goes back to what holds, is kept as a draft, and says what the server refuses', async () => {
    let isRefused = true
    const server = aServer([aRule()])
    const keep = server.answers.setIntakeRule
    const { user, findByRole, findByText, findByLabelText, getByLabelText, getByRole, queryByRole } = show(
      <RulePane id="EMB/live-faults" />,
      {
        at: '/rule~EMB,live-faults',
        answers: {
          ...server.answers,
          setIntakeRule: (call) => (isRefused ? { refused: 'not-allowed', detail: 'The project is archived.' } : (keep?.(call) as Rules)),
        },
      },
    )
    const name = (await findByLabelText('Name')) as HTMLInputElement
    await findByText('1 of 1')
    await user.type(name, ' at night')
    await user.click(getByRole('button', { name: 'Back to what holds' }))
    expect(name.value).toBe('Live faults')
    await user.type(name, ' at night')
    await user.click(getByRole('button', { name: 'Make it a draft' }))
    await findByText('The project is archived.')
    expect((getByLabelText('Name') as HTMLInputElement).value).toBe('Live faults at night')
    isRefused = false
    await user.click(getByRole('button', { name: 'Make it a draft' }))
    await findByRole('button', { name: 'Keep as a draft' })
    await findByText('draft, does nothing')
    await waitFor(() => expect(queryByRole('button', { name: /^Back to what/ })).toBeNull())
  })

  test('shows what came of it, and takes up what would have spared rejected ones by trying it', async () => {
    const record = aRecord(aRule({ fired: 9 }), {
      sinceMs: AT_MS,
      taken: 6,
      rejected: 2,
      waiting: 1,
      weeks: [{ fromMs: AT_MS, taken: 6, rejected: 2, waiting: 1 }],
      rows: [fired()],
      proposal: { what: 'people', atLeast: 3, rejectedAvoided: 2, rejected: 2, takenLost: 1, taken: 6 },
    })
    const { user, findByText, findByRole, container, bodiesOf } = show(<RulePane id="EMB/live-faults" />, {
      at: '/rule~EMB,live-faults',
      answers: {
        ...aServer([record.rule], { readIntakeRule: () => record }).answers,
        tryIntakeRule: () => ({ refused: 'busy', detail: 'Later.' }),
      },
    })
    await findByText(/Of what was decided, 75 % was taken/)
    expect(container.textContent).toContain('2 of 2 rejected ones hit fewer than 3 people; so did 1 of the 6 taken.')
    await user.click(await findByRole('button', { name: 'What if it asked for 3?' }))
    await waitFor(() =>
      expect(bodiesOf('tryIntakeRule')).toEqual([expect.objectContaining({ peopleAtLeast: 3, ruleId: 'live-faults', days: 30 })]),
    )
  })
})

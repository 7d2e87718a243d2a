import { expect, test } from '@jest/globals'
import { waitFor, within } from '@testing-library/react'
import type { RoutingRules } from '@dystracer/core/routing/wire'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { RoutingPane } from './RoutingPane'

const NOTHING = { components: [], paths: [], labels: [], words: [] }
const A_RULE: RoutingRules['rows'][number] = {
  ruleId: 'doors',
  name: 'Doors',
  conditions: { ...NOTHING, paths: ['src/relay'], words: ['door', 'door card'] },
  sets: { component: null, ownerId: 'rafe', severity: 2, milestone: null, priority: 'high', labels: ['sensor'] },
  used: 3,
}

/** A server that keeps rules and weeks of duty as the real one does. */
function routing(role: 'lead' | 'member' = 'lead'): Answers {
  let kept: RoutingRules = {
    rows: [A_RULE],
    duty: [
      { weekOn: '2026-11-23', personId: 'ines' },
      { weekOn: '2026-11-30', personId: null },
    ],
  }
  return {
    readMe: () => aMe({ person: { personId: 'ines', name: 'Ines Calder', initials: 'IC', role } }),
    readRouting: () => kept,
    setRoutingRule: ({ body }) => {
      if (body.name === 'Refused') return { refused: 'invalid-input', detail: 'sets: Say what it sets' }
      kept = { ...kept, rows: [...kept.rows, { ...(body as RoutingRules['rows'][number]), used: 0 }] }
      return kept
    },
    removeRoutingRule: ({ params }) => {
      kept = { ...kept, rows: kept.rows.filter(({ ruleId }) => ruleId !== params.ruleId) }
      return kept
    },
    setDuty: ({ body }) => {
      kept = { ...kept, duty: kept.duty.map((week) => (week.weekOn === body.weekOn ? body : week)) }
      return kept
    },
  }
}

test('a rule is told in words: what it asks, what it sets, how often it did', async () => {
  const { findByRole } = show(<RoutingPane />, { answers: routing() })
  const rules = await findByRole('region', { name: 'Routing rules' })
  expect(rules.textContent).toContain(
    'code below src/relay and says “door” or “door card” → owner Rafe Lindqvist, severity 2, priority high',
  )
  expect(rules.textContent).toContain('3 times')
})

test('a lead makes a rule, which gets an id of its name, and removes one', async () => {
  const { findByRole, user, bodiesOf, asked } = show(<RoutingPane />, { answers: routing() })
  const form = within(await findByRole('form', { name: 'New rule' }))
  const add = form.getByRole<HTMLButtonElement>('button', { name: 'Add the rule' })
  expect(add.disabled).toBe(true)
  await user.type(form.getByLabelText('New rule'), 'Billing words')
  await user.type(form.getByLabelText('and it says'), 'invoice, double  charge ,')
  await user.selectOptions(form.getByLabelText('Set component'), 'Billing')
  await user.selectOptions(form.getByLabelText('priority'), 'low')
  await user.click(add)
  const rules = within(await findByRole('region', { name: 'Routing rules' }))
  await rules.findByText('Billing words')
  expect(bodiesOf('setRoutingRule')).toEqual([
    {
      ruleId: 'billing-words',
      name: 'Billing words',
      conditions: { ...NOTHING, words: ['invoice', 'double  charge'] },
      sets: { component: 'Billing', ownerId: null, severity: null, milestone: null, priority: 'low', labels: [] },
    },
  ])
  expect(form.getByLabelText<HTMLInputElement>('New rule').value).toBe('')
  await user.click(rules.getByRole('button', { name: 'Remove the rule Doors' }))
  await waitFor(() => expect(rules.queryByText('Doors')).toBeNull())
  expect(asked.find(({ name }) => name === 'removeRoutingRule')?.params).toEqual({ project: 'EMB', ruleId: 'doors' })
})

test('a rule that is refused stays in the form, so that it can be mended', async () => {
  const { findByRole, user, bodiesOf } = show(<RoutingPane />, { answers: routing() })
  const form = within(await findByRole('form', { name: 'New rule' }))
  await user.type(form.getByLabelText('New rule'), 'Refused')
  await user.type(form.getByLabelText('and it says'), 'door')
  await user.selectOptions(form.getByLabelText('severity'), '1')
  await user.click(form.getByRole('button', { name: 'Add the rule' }))
  await waitFor(() => expect(bodiesOf('setRoutingRule')).toHaveLength(1))
  expect(form.getByLabelText<HTMLInputElement>('New rule').value).toBe('Refused')
})

test('duty is given for a week, and taken back', async () => {
  const { findByLabelText, user, bodiesOf } = show(<RoutingPane />, { answers: routing() })
  await user.selectOptions(await findByLabelText('On duty from 2026-11-30'), 'Rafe Lindqvist')
  await waitFor(async () => expect((await findByLabelText('On duty from 2026-11-30')) as HTMLSelectElement).toHaveProperty('value', 'rafe'))
  await user.selectOptions(await findByLabelText('On duty from 2026-11-23'), 'nobody')
  await waitFor(() =>
    expect(bodiesOf('setDuty')).toEqual([
      { weekOn: '2026-11-30', personId: 'rafe' },
      { weekOn: '2026-11-23', personId: null },
    ]),
  )
})

test('a member reads it and changes nothing', async () => {
  const { findByText, getByLabelText, queryByRole } = show(<RoutingPane />, { answers: routing('member') })
  await findByText(/A lead changes these/)
  expect((getByLabelText('On duty from 2026-11-23') as HTMLSelectElement).disabled).toBe(true)
  expect(queryByRole('form', { name: 'New rule' })).toBeNull()
  expect(queryByRole('button', { name: /Remove/ })).toBeNull()
})

import { afterEach, describe, expect, test } from '@jest/globals'
import { within } from '@testing-library/react'
import { DEFAULT_QUALITY_RULES, type QualityRule } from '@dystracer/core/quality/quality-rule'
import type { QualityRuleRow } from '@dystracer/core/quality/wire'
import { toast } from 'sonner'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { QualityRules } from './QualityRules'

const AT_MS = 1_770_000_000_000
const aRow = (rule: QualityRule, given: Partial<QualityRuleRow> = {}): QualityRuleRow => ({
  ...rule,
  fired: 0,
  week: 0,
  lastFiredAtMs: null,
  taken: 0,
  rejected: 0,
  waiting: 0,
  ...given,
})
const [FAILING, FINDINGS] = DEFAULT_QUALITY_RULES as [QualityRule, QualityRule]
afterEach(() => void toast.dismiss())

/** A project whose rules are kept as the interface sets them. */
function aProject(given: Answers = {}) {
  let rows = [aRow(FAILING, { fired: 4, week: 1, lastFiredAtMs: AT_MS, taken: 2, rejected: 1, waiting: 1 }), aRow(FINDINGS)]
  let isDefault = true
  const sent: QualityRule[][] = []
  const answers: Answers = {
    readMe: () => aMe(),
    listRepositories: () => ({ rows: [] }),
    listQualityRules: () => ({ rows, isDefault }),
    setQualityRules: ({ body }) => {
      rows = (body.rules as QualityRule[]).map((rule) => aRow(rule))
      isDefault = false
      sent.push(body.rules as QualityRule[])
      return { rows, isDefault }
    },
    ...given,
  }
  return { answers, sent }
}
const idsOf = (rules: QualityRule[] | undefined) => rules?.map(({ ruleId }) => ruleId)

describe('rules about what builds bring', () => {
  test('stand in their order with what each did; they are moved, removed, and taken back', async () => {
    const { answers, sent } = aProject()
    const { findByText, getByRole, findByRole, user } = show(<QualityRules />, { answers })
    await findByText('These hold until the project says otherwise.')
    const part = getByRole('region', { name: 'Rules about what builds bring' })
    expect(part.textContent).toContain('a test that fails where main builds>=2: log a defect')
    expect(part.textContent).toContain('took 4 things, 1 of them this week; of its items 2 taken, 1 rejected, 1 waiting')
    await user.click(getByRole('button', { name: `Move ${FINDINGS.name} up` }))
    expect(idsOf(sent.at(-1))).toEqual(['new-findings', 'failing-tests'])
    await user.click(await findByRole('button', { name: `Remove ${FINDINGS.name}` }))
    expect(idsOf(sent.at(-1))).toEqual(['failing-tests'])
    await findByText('has taken nothing yet')
  })

  test('a new one is put together of words, tried, and kept; what is refused is said', async () => {
    const tried: unknown[] = []
    let isRefused = true
    const { answers, sent } = aProject({
      tryQualityRule: ({ body }) => {
        tried.push([body.rule.about, body.rule.where, body.days])
        const row = { what: 'door stays shut fails', place: 'build:kiln/7', atMs: AT_MS, key: null, judgement: null }
        return { days: 30, looked: 9, fired: 2, standing: 1, rows: [row], isCut: false }
      },
    })
    const set = answers.setQualityRules
    answers.setQualityRules = (asked) =>
      isRefused || !set ? { refused: 'invalid-input', detail: 'The condition is not understood.' } : set(asked)
    const { findByRole, queryByRole, user } = show(<QualityRules />, { answers })
    await user.click(await findByRole('button', { name: 'New rule…' }))
    const dialog = await findByRole('dialog', { name: 'A new rule' })
    const control = (name: string) => within(dialog).getByLabelText(name)
    await user.type(control('Name'), 'Doors')
    await user.selectOptions(control('What it is about'), 'test')
    await user.type(control('Condition'), 'test=door{Enter}')
    await user.selectOptions(control('Severity'), '2')
    await user.type(control('Items a day'), '3')
    await user.click(within(dialog).getByRole('button', { name: 'Try it on 30 days' }))
    const trial = await within(dialog).findByRole('status', { name: 'What it would have done' })
    expect(trial.textContent).toContain('it would have taken 2 of 9 that came; the rules as they hold log 1 of these')
    expect(trial.textContent).toContain('door stays shut fails')
    expect(tried).toEqual([['test', 'test=door', 30]])
    await user.click(within(dialog).getByRole('button', { name: 'Keep it' }))
    await within(dialog).findByText('The condition is not understood.')
    isRefused = false
    await user.click(within(dialog).getByRole('button', { name: 'Keep it' }))
    expect(sent.at(-1)?.at(-1)).toMatchObject({
      ruleId: 'doors',
      name: 'Doors',
      where: 'test=door',
      severity: 2,
      perDay: 3,
      isDraft: false,
    })
    expect(queryByRole('dialog')).toBeNull()
  })
})

import { describe, expect, test } from '@jest/globals'
import type { DecideMany, TriageWeeks } from '@dystracer/core/triage/wire'
import { waitFor, within } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { DecideManyBar } from './DecideManyBar'
import { WeeksPane } from './WeeksPane'

const HOUR_MS = 3_600_000
type Week = TriageWeeks['rows'][number]
const aWeek = (given: Partial<Week> = {}): Week => ({
  weekOn: '2026-11-23',
  cameIn: {},
  decided: {},
  rejected: {},
  undone: 0,
  waitedMedianMs: null,
  waitedP90Ms: null,
  proposals: [],
  putRight: {},
  ...given,
})
const weeks = (given: Partial<TriageWeeks>) =>
  show(<WeeksPane />, {
    answers: { readMe: () => aMe(), readTriageWeeks: () => ({ rows: [aWeek()], examples: [], rules: [], ...given }) },
    at: '/triage/weeks',
  })
const rowsOf = (table: HTMLElement) =>
  Object.fromEntries(
    within(table)
      .getAllByRole('row')
      .slice(1)
      .map((row) => [row.querySelector('th')?.textContent?.trim(), [...row.querySelectorAll('td')].map((cell) => cell.textContent)]),
  )

describe('the weeks of deciding', () => {
  test('tell what people put right, and lead to each case', async () => {
    const { findByRole, address, user } = weeks({
      rows: [
        aWeek({ putRight: { 'faults-parted': 1 } }),
        aWeek({ weekOn: '2026-11-16', putRight: { 'faults-parted': 2, 'severity-set': 1 } }),
      ],
      examples: [
        {
          what: 'faults-parted',
          atMs: 1_770_000_000_000,
          by: 'rafe',
          from: { kind: 'fault', id: 'F-3' },
          to: { kind: 'fault', id: 'F-9' },
        },
        { what: 'severity-set', atMs: 1_770_000_000_000, by: 'ines', from: { kind: 'item', id: 'EMB-7' }, to: null },
      ],
    })
    const part = await findByRole('region', { name: 'Put right by people' })
    expect(part.textContent).toContain('a fault that was two 3')
    const list = within(part).getByRole('list', { name: 'a fault that was two' })
    expect(list.textContent).toMatch(/^F-3 and F-9, Rafe/)
    await user.click(within(list).getByRole('link', { name: 'F-3' }))
    expect(address()).toContain('fault~F-3')
  })

  test('say so where nothing was put right', async () => {
    const { findByText } = weeks({})
    await findByText('Nothing that was found by itself was put right.')
  })

  test('count what came in and from where, what was decided and how, what was rejected and why, and how long it waited', async () => {
    const { findByRole } = weeks({
      rows: [
        aWeek({
          cameIn: { person: 4, fault: 2 },
          decided: { accept: 3, reject: 1 },
          rejected: { deferred: 1 },
          undone: 1,
          waitedMedianMs: HOUR_MS / 4,
          waitedP90Ms: 30 * HOUR_MS,
        }),
        aWeek({ weekOn: '2026-11-16', cameIn: { person: 1 }, waitedMedianMs: 60 * HOUR_MS }),
      ],
    })
    const table = await findByRole('region', { name: 'Week by week' })
    await waitFor(() => within(table).getByText('11-23'))
    const rows = rowsOf(table)
    expect(rows).toMatchObject({
      'came in': ['6', '1'],
      '· from people': ['4', '1'],
      '· from faults': ['2', '0'],
      decided: ['4', '0'],
      '· accepted': ['3', '0'],
      '· deferred': ['1', '0'],
      '· taken back': ['1', '0'],
      'waited, half of them': ['15 min', '3 d'],
      'waited, nine of ten': ['30 h', '–'],
    })
    // What never came is no row.
    expect(rows).not.toHaveProperty('· imported')
  })

  test('say how often first proposals were taken, over all weeks', async () => {
    const { findByRole } = weeks({
      rows: [
        aWeek({
          proposals: [
            { field: 'severity', taken: 3, changed: 1 },
            { field: 'ownerId', taken: 0, changed: 0 },
          ],
        }),
        aWeek({ weekOn: '2026-11-16', proposals: [{ field: 'severity', taken: 2, changed: 0 }] }),
      ],
    })
    const proposals = within(await findByRole('region', { name: 'Proposals' }))
    expect(proposals.getAllByRole('listitem').map((line) => line.textContent)).toEqual(['severity5 of 6'])
  })

  test('mark a rule that people mostly change, and say where there is none', async () => {
    const first = weeks({
      rules: [
        { ruleId: 'a', name: 'kiln to Rafe', set: 10, changedSince: 2 },
        { ruleId: 'b', name: 'all to Ines', set: 10, changedSince: 6 },
      ],
    })
    const rules = within(await first.findByRole('region', { name: 'Routing rules' }))
    expect(rules.getByText('2').className).not.toContain('text-fault')
    expect(rules.getByText('6').className).toContain('text-fault')
    first.unmount()
    const { findByText } = weeks({})
    await findByText('No rule has been set up.')
    await findByText('No decision with proposals yet.')
  })

  test('are as many as one asks for', async () => {
    const { user, findByLabelText, asked } = weeks({})
    await user.selectOptions(await findByLabelText('How many weeks'), '26')
    await waitFor(() => expect(asked.filter(({ name }) => name === 'readTriageWeeks').map(({ query }) => query.weeks)).toEqual(['8', '26']))
  })
})

describe('one decision on several reports', () => {
  const KEYS = ['EMB-1', 'EMB-2']
  const bar = () => {
    const decided: [DecideMany, string][] = []
    const none: true[] = []
    const shown = show(<DecideManyBar keys={KEYS} onDecide={(input, said) => decided.push([input, said])} onNone={() => none.push(true)} />)
    return { ...shown, decided, none }
  }

  test('accepts them at a severity, or rejects them with words', async () => {
    const { user, getByLabelText, decided } = bar()
    await user.selectOptions(getByLabelText('Accept them at'), '2')
    await user.type(getByLabelText('Words to the reporters'), 'Known since May.')
    await user.selectOptions(getByLabelText('Reject them'), 'deferred')
    expect(decided).toEqual([
      [{ decision: 'accept', severity: 2, keys: KEYS }, 'accepted at 2'],
      [{ decision: 'reject', disposition: 'deferred', words: 'Known since May.', keys: KEYS }, 'rejected'],
    ])
  })

  test('asks only where there is a question, and joins only where there is a key', async () => {
    const { user, getByRole, getByLabelText, decided, none } = bar()
    const [ask, same] = [getByRole('button', { name: 'Ask' }), getByRole('button', { name: 'Same as' })]
    for (const button of [ask, same]) expect(button.hasAttribute('disabled')).toBe(true)
    await user.type(getByLabelText('Words to the reporters'), 'Which kiln?')
    await user.click(ask)
    await user.type(getByLabelText('The same as'), 'emb-9')
    await user.click(same)
    expect(decided).toEqual([
      [{ decision: 'ask', words: 'Which kiln?', keys: KEYS }, 'asked'],
      [{ decision: 'same-as', into: 'EMB-9', keys: KEYS }, 'are the same as EMB-9'],
    ])
    await user.click(getByRole('button', { name: 'Choose none' }))
    expect(none).toHaveLength(1)
  })
})

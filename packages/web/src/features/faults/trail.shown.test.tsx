import { describe, expect, test } from '@jest/globals'
import type { Trail as TrailData } from '@dystracer/core/faults/wire'
import { within } from '@testing-library/react'
import { show } from '#shared/test/shown'
import { Trail } from './Trail'

const ERROR_AT_MS = 1_770_000_000_000
type Step = TrailData['steps'][number]
const step = (given: Partial<Step> & { name: string }): Step => ({
  mark: given.name,
  kind: 'span',
  service: 'planner',
  parent: null,
  atMs: ERROR_AT_MS - 100,
  endMs: null,
  severityNumber: 0,
  detail: '',
  depth: 0,
  stand: 'before',
  ...given,
})
const shown = (trail: Partial<TrailData>) =>
  show(<Trail fault="F-3" occurrenceId={7} atMs={ERROR_AT_MS} />, {
    answers: {
      readTrail: ({ params }) => {
        expect(params).toEqual({ fault: 'F-3', occurrence: '7' })
        return { steps: [], elsewhere: 0, ...trail }
      },
    },
  })
const rowsOf = (section: HTMLElement) =>
  within(section)
    .getAllByRole('row')
    .slice(1)
    .map((row) =>
      within(row)
        .getAllByRole('cell')
        .slice(0, 3)
        .map((cell) => cell.textContent),
    )

describe('what happened around an error', () => {
  test('reads from outside in with times to the error; what came after is folded until asked for', async () => {
    const { user, findByRole } = shown({
      steps: [
        step({ name: 'POST /firings', detail: 'POST /firings 500', endMs: ERROR_AT_MS + 5, atMs: ERROR_AT_MS - 180, stand: 'during' }),
        step({ name: 'segment 3 has no ramp', kind: 'log', severityNumber: 13, atMs: ERROR_AT_MS - 20, depth: 1 }),
        step({ name: 'TypeError: no ramp', kind: 'error', severityNumber: 17, atMs: ERROR_AT_MS, depth: 1 }),
        step({ name: 'answer', atMs: ERROR_AT_MS + 2, endMs: ERROR_AT_MS + 4, depth: 1, stand: 'after' }),
      ],
    })
    const section = await findByRole('region', { name: 'What happened around it' })
    expect(rowsOf(section)).toEqual([
      ['−180 ms', 'POST /firings POST /firings 500 (under way when it failed)', '185 ms'],
      ['−20 ms', 'warning segment 3 has no ramp', ''],
      ['0 ms', 'TypeError: no ramp', ''],
    ])
    const button = within(section).getByRole('button', { name: '1 step after it, show' })
    expect(button.getAttribute('aria-expanded')).toBe('false')
    await user.click(button)
    expect(rowsOf(section).at(-1)).toEqual(['+2 ms', 'answer', '2 ms'])
    await user.click(within(section).getByRole('button', { name: 'only what led to it' }))
    expect(rowsOf(section)).toHaveLength(3)
  })

  test('of a long trace shows the steps nearest to the error first, and says how many there are besides', async () => {
    const { user, findByRole, getByText } = shown({
      steps: Array.from({ length: 90 }, (_, at) => step({ name: `step ${at}`, atMs: ERROR_AT_MS - 90_000 + at * 1000 })),
      elsewhere: 2,
    })
    const section = await findByRole('region', { name: 'What happened around it' })
    expect(rowsOf(section)).toHaveLength(40)
    expect(rowsOf(section)[0]).toEqual(['−40 s', 'step 50', ''])
    getByText('2 more steps in services of another project')
    await user.click(within(section).getByRole('button', { name: '50 earlier steps, show' }))
    expect(rowsOf(section)).toHaveLength(90)
  })

  test('names the service of a step where there is more than one', async () => {
    const { findByRole } = shown({ steps: [step({ name: 'plan' }), step({ name: 'heat', service: 'kiln' })] })
    expect(rowsOf(await findByRole('region', { name: 'What happened around it' })).map(([, what]) => what)).toEqual([
      'plan in planner',
      'heat in kiln',
    ])
  })
})

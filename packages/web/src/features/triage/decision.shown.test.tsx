import { beforeEach, describe, expect, test } from '@jest/globals'
import { waitFor, within } from '@testing-library/react'
import type { Proposals } from '@dystracer/core/triage/wire'
import { aMe } from '#shared/test/a-me'
import { aDetail } from '#shared/test/an-item'
import { show, type Answers } from '#shared/test/shown'
import { DecisionPane } from './DecisionPane'

const PROPOSALS: Proposals = {
  severity: { value: 2, reason: 'happens in production' },
  owners: [{ value: 'rafe', label: 'Rafe Lindqvist', reason: 'changed this file last', isFounded: true }],
  components: [
    { value: 'Firing control', label: 'Firing control', reason: 'the path says so', isFounded: true },
    { value: 'Billing', label: 'Billing', reason: 'two alike', isFounded: false },
  ],
  milestones: [],
  requirements: [],
  alike: [{ value: 'EMB-3', label: 'Shelf light dark', reason: 'both say shelf, light', isFounded: false }],
  broughtInBy: [],
  decided: null,
}

let nextKey = 100
let key = ''
beforeEach(() => {
  // Drafts of decisions are kept by item.
  key = `EMB-${nextKey++}`
})

async function shown(more: Answers = {}, proposals: Partial<Proposals> = {}) {
  const item = aDetail({ key, title: 'Shelf light flickers', reporterId: 'rafe' })
  const page = show(<DecisionPane id={key} />, {
    at: `/triage/decision~${key}`,
    answers: {
      readMe: () => aMe(),
      readItem: () => item,
      readProposals: () => ({ ...PROPOSALS, ...proposals }),
      listRequirements: () => ({ rows: [], nextCursor: null }),
      listTriage: () => ({ rows: [], nextCursor: null, total: 0, asked: 0, bySource: {} }),
      acceptItem: () => item,
      mergeItem: () => item,
      rejectItem: () => item,
      ...more,
    },
  })
  const form = await page.findByRole('form', { name: 'Decision' })
  return { ...page, form: within(form) }
}

describe('a decision', () => {
  test('stands ready with what evidence proposes, and with what is only alike left out', async () => {
    const { form } = await shown()
    await waitFor(() => expect((form.getByLabelText('Owner') as HTMLSelectElement).value).toBe('rafe'))
    expect((form.getByLabelText('Component') as HTMLSelectElement).value).toBe('Firing control')
    expect(form.getByRole('radio', { name: 'severity 2' }).getAttribute('aria-checked')).toBe('true')
    expect(form.getByText('2 looks right: happens in production')).toBeTruthy()
  })

  test('accepts what stands there, and says what was proposed', async () => {
    const { user, form, bodiesOf } = await shown()
    await user.click(form.getByRole('radio', { name: 'severity 4' }))
    await user.clear(form.getByLabelText('Title'))
    await user.type(form.getByLabelText('Title'), 'Shelf light flickers while a kiln heats')
    await user.click(form.getByRole('button', { name: 'Accept at 4' }))
    await waitFor(() => expect(bodiesOf('acceptItem')).toHaveLength(1))
    expect(bodiesOf('acceptItem')[0]).toMatchObject({
      severity: 4,
      ownerId: 'rafe',
      component: 'Firing control',
      title: 'Shelf light flickers while a kiln heats',
      proposed: { severity: 2 },
    })
  })

  test('takes another proposal by a click', async () => {
    const { user, form } = await shown()
    await user.click(form.getByRole('button', { name: 'Billing' }))
    expect((form.getByLabelText('Component') as HTMLSelectElement).value).toBe('Billing')
  })

  test('a rejection in its dialog is one decision: the form behind it is not sent', async () => {
    const { user, form, findByRole, bodiesOf } = await shown()
    await user.click(form.getByRole('button', { name: 'Reject…' }))
    const dialog = within(await findByRole('dialog', { name: `Reject ${key}` }))
    await user.click(dialog.getByRole('button', { name: 'Reject it' }))
    await waitFor(() => expect(bodiesOf('rejectItem')).toHaveLength(1))
    expect(bodiesOf('acceptItem')).toEqual([])
  })

  test('that somebody else has made is shown and cannot be made again', async () => {
    const { form, queryByRole } = await shown({}, { decided: { by: 'person:rafe', decision: 'accept', atMs: 1_770_000_000_000 } })
    await waitFor(() => expect(form.getByRole('status').textContent).toMatch(/^Rafe Lindqvist accepted it/))
    expect(queryByRole('button', { name: /^Accept at/ })).toBeNull()
    expect((form.getByRole('button', { name: 'Take it back' }) as HTMLButtonElement).disabled).toBe(true)
  })

  test('is only read by those who may not decide', async () => {
    const reader = aMe({ person: { personId: 'otto', name: 'Otto', initials: 'OT', role: 'reader' } })
    const { form } = await shown({ readMe: () => reader })
    await waitFor(() => expect((form.getByLabelText('Owner') as HTMLSelectElement).disabled).toBe(true))
    expect((form.getByRole('button', { name: /^Accept at/ }) as HTMLButtonElement).disabled).toBe(true)
  })
})

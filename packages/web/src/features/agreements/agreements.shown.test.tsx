import { describe, expect, test } from '@jest/globals'
import type { AgreementDetail } from '@dystracer/core/agreements/wire'
import { fireEvent, waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { aRequirement } from '#shared/test/a-requirement'
import { show, type Answers } from '#shared/test/shown'
import { AgreementPane } from './AgreementPane'
import { Agreements } from './Agreements'
import { AskedHere } from './AskedHere'

type Row = AgreementDetail['rows'][number]
const row = (key: string, text: string, given: Partial<Row> = {}): Row => ({
  key,
  title: key,
  text,
  isHeading: false,
  revision: 1,
  agreedBy: [],
  outdatedBy: [],
  waitsFor: ['ines', 'rafe'],
  seen: null,
  remarks: [],
  ...given,
})
function anAgreement(given: Partial<AgreementDetail> = {}): AgreementDetail {
  return {
    project: 'EMB',
    agreementId: 'a1',
    name: 'Doors for 4.2',
    words: 'Is 60 enough?',
    by: 'person:ines',
    atMs: 1_790_000_000_000,
    dueOn: '2026-12-01',
    total: 3,
    agreed: 0,
    isAgreed: false,
    people: [
      { personId: 'ines', agreed: 0 },
      { personId: 'rafe', agreed: 1 },
    ],
    openRemarks: 0,
    ended: null,
    keys: ['SAF-1', 'SAF-2', 'SAF-3'],
    rows: [
      row('SAF-1', 'The door locks above 50 °C.', {
        revision: 2,
        outdatedBy: ['ines'],
        waitsFor: ['rafe'],
        seen: { revision: 1, text: 'The door locks above 60 °C.' },
      }),
      row('SAF-2', 'The door is warm.', { agreedBy: ['rafe'], waitsFor: ['ines'] }),
      row('SAF-3', 'The door shines.'),
    ],
    ...given,
  }
}
function shown(given: Partial<AgreementDetail> = {}, more: Answers = {}) {
  const agreement = anAgreement(given)
  const page = show(<AgreementPane id="EMB/a1" />, {
    at: '/requirements~agreed/agreement~EMB,a1',
    answers: { readMe: () => aMe(), readAgreement: () => agreement, listRequirements: () => ({ rows: [] }), ...more },
  })
  const line = (key: string) => page.container.querySelector<HTMLElement>(`[data-asked="${key}"]`) as HTMLElement
  return { ...page, agreement, line }
}

describe('an agreement', () => {
  test('is walked by keys: a agrees to the text at hand and goes on', async () => {
    const page = shown({}, { agreeToRequirements: () => anAgreement() })
    await page.findByRole('button', { name: 'I agree to all 3' })
    page.line('SAF-2').focus()
    fireEvent.keyDown(page.line('SAF-2'), { key: 'a' })
    await waitFor(() => expect(page.bodiesOf('agreeToRequirements')).toEqual([{ verdicts: [{ key: 'SAF-2', revision: 1 }], isOn: true }]))
    expect(document.activeElement).toBe(page.line('SAF-3'))
    fireEvent.keyDown(page.line('SAF-3'), { key: 'k' })
    expect(document.activeElement).toBe(page.line('SAF-2'))
  })

  test('shows what changed since one agreed, and all that is left is agreed to at once', async () => {
    const page = shown({}, { agreeToRequirements: () => anAgreement() })
    await waitFor(() => expect(page.line('SAF-1').querySelector('ins')?.textContent).toContain('50'))
    expect(page.line('SAF-1').querySelector('del')?.textContent).toContain('60')
    await page.user.click(page.getByRole('button', { name: 'I agree to all 3' }))
    await waitFor(() =>
      expect(page.bodiesOf('agreeToRequirements')).toEqual([
        {
          verdicts: [
            { key: 'SAF-1', revision: 2 },
            { key: 'SAF-2', revision: 1 },
            { key: 'SAF-3', revision: 1 },
          ],
          isOn: true,
        },
      ]),
    )
  })

  test('takes remarks on the words that are marked; what was refused stays written', async () => {
    const page = shown(
      {},
      { remarkOnAgreement: () => ({ refused: 'invalid-input', fields: { quote: 'These words do not stand in SAF-2 as it is now' } }) },
    )
    await page.findByRole('button', { name: 'Remark on SAF-2' })
    page.line('SAF-2').focus()
    const words = page.getByText('The door is warm.').firstChild as Text
    const range = document.createRange()
    range.setStart(words, 9)
    range.setEnd(words, 16)
    window.getSelection()?.removeAllRanges()
    window.getSelection()?.addRange(range)
    fireEvent.keyDown(page.line('SAF-2'), { key: 'c' })
    await page.findByText('“is warm”')
    await page.user.type(page.getByLabelText('What you say'), 'How warm?')
    await page.user.click(page.getByRole('button', { name: 'Say it' }))
    await page.findByText(/do not stand in SAF-2/)
    expect(page.bodiesOf('remarkOnAgreement')).toEqual([{ key: 'SAF-2', quote: 'is warm', text: 'How warm?' }])
    expect((page.getByLabelText('What you say') as HTMLTextAreaElement).value).toBe('How warm?')
  })

  test('has its remarks settled by who writes requirements; one that ended takes nothing and can go on', async () => {
    const remark = {
      remarkId: 'r1',
      quote: 'warm',
      text: 'How warm?',
      revision: 1,
      by: 'person:rafe',
      atMs: 1_790_000_000_000,
      settledBy: null,
    }
    const rows = [row('SAF-2', 'The door is warm.', { remarks: [remark] })]
    const page = shown({ rows, openRemarks: 1 }, { settleAgreementRemark: () => anAgreement() })
    await page.user.click(await page.findByRole('button', { name: 'settled' }))
    await waitFor(() => expect(page.bodiesOf('settleAgreementRemark')).toEqual([{ isSettled: true }]))
    page.unmount()
    const over = shown({ rows, ended: { words: 'for the audit', by: 'person:ines', atMs: 1 } }, { endAgreement: () => anAgreement() })
    await over.findByText(/for the audit/)
    expect(over.queryByRole('button', { name: /agree|Remark|settled/ })).toBeNull()
    await over.user.click(over.getByRole('button', { name: 'let it go on' }))
    await waitFor(() => expect(over.bodiesOf('endAgreement')).toEqual([{ isEnded: false, words: '' }]))
  })
})

test('people are asked for a chapter: its requirements however deep, without headings and what is retired', async () => {
  const rows = [
    aRequirement({ key: 'SAF-1', title: 'Doors', isHeading: true }),
    aRequirement({ key: 'SAF-2', parent: 'SAF-1' }),
    aRequirement({ key: 'SAF-3', parent: 'SAF-2' }),
    aRequirement({ key: 'SAF-4', parent: 'SAF-1', isRetired: true }),
    aRequirement({ key: 'SAF-5' }),
  ]
  const page = show(<Agreements project="EMB" canAsk />, {
    answers: {
      readMe: () => aMe(),
      listAgreements: () => ({ rows: [] }),
      listRequirements: () => ({ rows }),
      askAgreement: ({ body }) => anAgreement({ name: body.name }),
    },
  })
  await page.findByText(/Nobody is asked yet/)
  await page.user.click(page.getByRole('button', { name: 'Ask people to agree…' }))
  await page.user.type(await page.findByLabelText(/^Its name/), 'Doors')
  await page.findByText(/^3 requirements/)
  await page.user.selectOptions(page.getByLabelText('Which requirements'), 'SAF-1 Doors')
  await page.findByText(/^2 requirements/)
  await page.user.click(page.getByLabelText(aMe().people[0]?.name ?? ''))
  await page.user.click(page.getByRole('button', { name: 'Ask them' }))
  await waitFor(() =>
    expect(page.bodiesOf('askAgreement')).toEqual([
      { name: 'Doors', words: '', keys: ['SAF-2', 'SAF-3'], people: [aMe().people[0]?.personId], dueOn: null },
    ]),
  )
  expect(decodeURIComponent(page.address())).toContain('agreement~EMB,a1')
})

test('a requirement says that it is asked for, and is agreed to where it is read', async () => {
  const page = show(<AskedHere requirement="SAF-1" />, {
    answers: {
      readMe: () => aMe(),
      listAgreements: () => ({ rows: [anAgreement()] }),
      readAgreement: () => anAgreement(),
      agreeToRequirements: () => anAgreement(),
    },
  })
  await page.findByText(/anew since its text changed/)
  await page.user.click(page.getByRole('button', { name: 'I agree to revision 2' }))
  await waitFor(() => expect(page.bodiesOf('agreeToRequirements')).toEqual([{ verdicts: [{ key: 'SAF-1', revision: 2 }], isOn: true }]))
})

import { describe, expect, test } from '@jest/globals'
import type { Gaps } from '@dystracer/core/requirements/gaps-wire'
import type { RequirementDetail } from '@dystracer/core/requirements/wire'
import { waitFor } from '@testing-library/react'
import type { Answer } from '#shared/lib/api'
import { aMe } from '#shared/test/a-me'
import { anItem } from '#shared/test/an-item'
import { aRequirement } from '#shared/test/a-requirement'
import { show, type Answers } from '#shared/test/shown'
import { RequirementPane } from './RequirementPane'
import { RequirementsPane } from './RequirementsPane'

type AttributeRows = Answer<'listRequirementAttributes'>['rows']

async function shown(given: Partial<RequirementDetail> = {}, more: Answers = {}) {
  const held = { row: aRequirement(given) }
  const page = show(<RequirementPane id="SAF-1" />, {
    at: '/requirements/requirement~SAF-1',
    answers: {
      readMe: () => aMe(),
      readRequirement: () => held.row,
      listRequirementAttributes: () => ({ rows: [] }),
      writeRequirement: ({ body }) => {
        held.row = { ...held.row, ...body, revision: held.row.revision + 1 }
        return held.row
      },
      ...more,
    },
  })
  await page.findByText(/^revision 2/)
  return page
}

const tied = (key: string, isSuspect: boolean) => ({
  ...anItem({ key, title: `What ${key} does` }),
  linkKind: 'implements',
  linkId: `link-${key}`,
  isSuspect,
  madeForRevision: isSuspect ? 1 : 2,
})
const revision = (number: number, text: string, because = '') => ({
  revision: number,
  title: 'Limit',
  text,
  because,
  isMinor: false,
  atMs: number,
  by: 'person:ines',
})
const CHANGED = {
  text: 'A kiln never heats 5 K above its limit.',
  items: [tied('EMB-1', true), tied('EMB-2', true), tied('EMB-3', false)],
  revisions: [
    revision(2, 'A kiln never heats 5 K above its limit.', 'measured at the Quayside'),
    revision(1, 'A kiln never heats above its limit.'),
  ],
}

describe('ties that were made for an older text', () => {
  test('are shown with what changed and why; one is said to hold', async () => {
    const { user, findByRole, getByRole, getByText, bodiesOf } = await shown(CHANGED, {
      confirmLinks: () => aRequirement({ ...CHANGED, items: [] }),
    })
    const part = await findByRole('region', { name: 'Made for an older text' })
    await waitFor(() => expect([...part.querySelectorAll('ins')].map((one) => one.textContent?.trim())).toEqual(['5 K']))
    expect(getByText('Because: measured at the Quayside')).toBeTruthy()
    expect(part.textContent).not.toContain('EMB-3')
    await user.click(getByRole('button', { name: 'EMB-1 holds' }))
    await waitFor(() => expect(bodiesOf('confirmLinks')).toEqual([{ linkIds: ['link-EMB-1'] }]))
  })

  test('are said to hold all at once', async () => {
    const { user, findByRole, bodiesOf } = await shown(CHANGED, { confirmLinks: () => aRequirement(CHANGED) })
    await user.click(await findByRole('button', { name: 'All 2 hold' }))
    await waitFor(() => expect(bodiesOf('confirmLinks')).toEqual([{ linkIds: ['link-EMB-1', 'link-EMB-2'] }]))
  })

  test('a change of spelling leaves them be, one of a number cannot be said to be that', async () => {
    const { user, findByRole, getByRole, getByLabelText, getByText, bodiesOf } = await shown({ items: [tied('EMB-1', false)] })
    await user.click(await findByRole('button', { name: 'edit' }))
    const text = getByLabelText('Requirement text')
    await user.clear(text)
    await user.type(text, 'A kiln never heats above its limits.')
    await user.click(getByRole('checkbox'))
    await user.type(text, ' 5 K')
    expect(getByText(/5, k carries weight/)).toBeTruthy()
    expect((getByRole('checkbox') as HTMLInputElement).disabled).toBe(true)
    await user.type(text, '{Backspace}{Backspace}{Backspace}{Backspace}')
    await user.type(getByLabelText('Why it changes'), 'several kilns')
    await user.click(getByRole('button', { name: 'Save revision 3' }))
    await waitFor(() =>
      expect(bodiesOf('writeRequirement')).toEqual([
        { title: 'Limit', text: 'A kiln never heats above its limits.', because: 'several kilns', isMinor: true },
      ]),
    )
  })
})

describe('gaps', () => {
  const GAPS: Gaps = {
    rows: [
      { code: 'without-test', kind: 'requirement', id: 'SAF-1', title: 'Limit', by: [], ownerId: null, sinceMs: 1, agreed: null },
      {
        code: 'without-test',
        kind: 'requirement',
        id: 'SAF-2',
        title: 'Door',
        by: [],
        ownerId: null,
        sinceMs: 1,
        agreed: { reason: 'by hand', until: null, by: 'person:ines' },
      },
    ],
    counts: [{ code: 'without-test', open: 1, agreed: 1 }],
    more: 0,
  }

  test('are listed by kind without those that were agreed, and agreed to with a reason', async () => {
    const { user, findByRole, getByRole, getByLabelText, queryByText, getByText, bodiesOf } = show(<RequirementsPane id="gaps" />, {
      at: '/requirements~gaps',
      answers: {
        readMe: () => aMe(),
        listRequirements: () => ({ rows: [aRequirement()] }),
        listGaps: () => GAPS,
        agreeGap: () => GAPS,
      },
    })
    await findByRole('region', { name: 'No test proves it' })
    expect(queryByText('Door')).toBeNull()
    await user.click(getByRole('button', { name: '1 gap agreed, show' }))
    expect(getByText(/by hand/)).toBeTruthy()
    await user.click(getByRole('button', { name: 'Agree to SAF-1' }))
    await user.type(getByLabelText(/Why it may stay/), 'checked by the installer')
    await user.click(getByRole('button', { name: 'It may stay' }))
    await waitFor(() =>
      expect(bodiesOf('agreeGap')).toEqual([{ code: 'without-test', id: 'SAF-1', reason: 'checked by the installer', until: null }]),
    )
  })
})

describe('a requirement', () => {
  test('says which revision saving makes, and shows the new text', async () => {
    const { user, findByRole, getByRole, getByLabelText, findByText, bodiesOf } = await shown()
    await user.click(await findByRole('button', { name: 'edit' }))
    const text = getByLabelText('Requirement text')
    await user.clear(text)
    await user.type(text, 'A kiln never heats 5 K above its limit.')
    await user.click(getByRole('button', { name: 'Save revision 3' }))
    await findByText('A kiln never heats 5 K above its limit.')
    expect(bodiesOf('writeRequirement')).toMatchObject([
      { title: 'Limit', text: 'A kiln never heats 5 K above its limit.', isMinor: false },
    ])
  })

  test('stays as it was when the writing is left', async () => {
    const { user, findByRole, getByRole, getByLabelText, getByText, bodiesOf } = await shown()
    await user.click(await findByRole('button', { name: 'edit' }))
    await user.type(getByLabelText('Requirement text'), ' Nor below.')
    await user.click(getByRole('button', { name: 'Leave as it was' }))
    expect(getByText('A kiln never heats above its limit.')).toBeTruthy()
    expect(bodiesOf('writeRequirement')).toEqual([])
  })

  test('keeps what was typed when it is refused', async () => {
    const { user, findByRole, getByRole, getByLabelText, bodiesOf } = await shown(
      {},
      { writeRequirement: () => ({ refused: 'not-allowed', detail: 'Your role does not let you write requirements.' }) },
    )
    await user.click(await findByRole('button', { name: 'edit' }))
    await user.type(getByLabelText('Requirement text'), ' Nor below.')
    await user.click(getByRole('button', { name: 'Save revision 3' }))
    await waitFor(() => expect(bodiesOf('writeRequirement')).toHaveLength(1))
    expect((getByLabelText('Requirement text') as HTMLTextAreaElement).value).toContain('Nor below.')
  })

  test('cannot be written by those who may only read', async () => {
    const { queryByRole } = await shown(
      {},
      { readMe: () => aMe({ person: { personId: 'otto', name: 'Otto', initials: 'OT', role: 'member' } }) },
    )
    expect(queryByRole('button', { name: 'edit' })).toBeNull()
  })

  test('says what is missing: no item, no test', async () => {
    const { getByText } = await shown()
    expect(getByText('No item implements it.')).toBeTruthy()
    expect(getByText(/^No test names it\. Put SAF-1/)).toBeTruthy()
  })
})

test('the list begins a requirement under its heading, and opens it', async () => {
  const { user, findByRole, getByRole, getByLabelText, bodiesOf, address } = show(<RequirementsPane id="" />, {
    at: '/requirements',
    answers: {
      readMe: () => aMe(),
      listGaps: () => ({ rows: [], counts: [], more: 0 }),
      listRequirements: () => ({ rows: [aRequirement({ key: 'SAF-9', title: 'Safety', isHeading: true })], nextCursor: null }),
      beginRequirement: ({ body }) => aRequirement({ key: 'SAF-10', title: body.title }),
    },
  })
  await user.click(await findByRole('button', { name: 'Begin a requirement…' }))
  await user.type(getByLabelText('Title'), 'A door that opens stops the burner')
  await user.click(getByRole('button', { name: 'Begin' }))
  await waitFor(() => expect(bodiesOf('beginRequirement')).toHaveLength(1))
  expect(bodiesOf('beginRequirement')[0]).toMatchObject({ title: 'A door that opens stops the burner', prefix: 'SAF', isHeading: false })
  await waitFor(() => expect(address()).toBe('/requirements/requirement~SAF-10'))
})

describe('what is said beside the text', () => {
  const rows = [
    { name: 'Rationale', kind: 'prose', choices: [], isMany: false, isOwn: false },
    { name: 'Priority', kind: 'choice', choices: ['must', 'should'], isMany: false, isOwn: false },
    { name: 'Sites', kind: 'choice', choices: ['Quay', 'Mill'], isMany: true, isOwn: true },
    { name: 'Tried', kind: 'yes-no', choices: [], isMany: false, isOwn: true },
  ] satisfies AttributeRows
  let sent = 0

  test('stands below it; only what changes is sent, and a wrong value is told at its field', async () => {
    const { user, findByRole, findByText, getByLabelText, bodiesOf } = await shown(
      { attributes: { Rationale: 'Clay burns', Tried: 'true' } },
      {
        listRequirementAttributes: () => ({ rows }),
        describeRequirement: ({ body }) => {
          sent++
          if (sent === 1) return { refused: 'invalid-input', fields: { Priority: 'Priority is one of must, should' } }
          return aRequirement({ attributes: body.attributes })
        },
      },
    )
    expect(await findByText('Clay burns')).toBeTruthy()
    expect(await findByText('yes')).toBeTruthy()
    await user.click(await findByRole('button', { name: 'Change…' }))
    await user.selectOptions(getByLabelText(/^Priority/), 'must')
    await user.type(getByLabelText(/^Sites/), 'Quay; Mill')
    await user.clear(getByLabelText('Rationale'))
    await user.click(await findByRole('button', { name: 'Save' }))
    expect(await findByText('Priority is one of must, should')).toBeTruthy()
    await user.click(await findByRole('button', { name: 'Save' }))
    await findByRole('button', { name: 'Change…' })
    expect(bodiesOf('describeRequirement').at(-1)).toEqual({ attributes: { Rationale: '', Priority: 'must', Sites: ['Quay', 'Mill'] } })
  })

  test('names other requirements, and takes that back', async () => {
    const relation = { relationId: 'r1', name: 'refines', isOut: true, other: { key: 'SAF-9', title: 'Stopping' }, words: 'By hand, too' }
    const { user, findByRole, findByText, asked } = await shown({ relations: [relation] }, { unrelateRequirement: () => aRequirement() })
    expect(await findByText('By hand, too')).toBeTruthy()
    await user.click(await findByRole('button', { name: 'Take back: refines SAF-9' }))
    await waitFor(() => expect(asked.some(({ name }) => name === 'unrelateRequirement')).toBe(true))
  })
})

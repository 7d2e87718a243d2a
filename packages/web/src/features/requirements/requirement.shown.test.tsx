import { describe, expect, test } from '@jest/globals'
import type { RequirementDetail } from '@dystracer/core/requirements/wire'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { RequirementPane, RequirementsPane } from './RequirementPanes'

function aRequirement(given: Partial<RequirementDetail> = {}): RequirementDetail {
  return {
    key: 'SAF-1',
    title: 'Limit',
    text: 'A kiln never heats above its limit.',
    revision: 2,
    parent: null,
    isHeading: false,
    isRetired: false,
    retiredWords: null,
    tests: 0,
    failingTests: 0,
    implementedBy: 0,
    children: [],
    brokenBy: [],
    items: [],
    verifiedBy: [],
    revisions: [],
    ...given,
  }
}

async function shown(given: Partial<RequirementDetail> = {}, more: Answers = {}) {
  const held = { row: aRequirement(given) }
  const page = show(<RequirementPane id="SAF-1" />, {
    at: '/requirements/requirement~SAF-1',
    answers: {
      readMe: () => aMe(),
      readRequirement: () => held.row,
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

describe('a requirement', () => {
  test('says which revision saving makes, and shows the new text', async () => {
    const { user, findByRole, getByRole, getByLabelText, findByText, bodiesOf } = await shown()
    await user.click(await findByRole('button', { name: 'edit' }))
    const text = getByLabelText('Requirement text')
    await user.clear(text)
    await user.type(text, 'A kiln never heats 5 K above its limit.')
    await user.click(getByRole('button', { name: 'Save revision 3' }))
    await findByText('A kiln never heats 5 K above its limit.')
    expect(bodiesOf('writeRequirement')).toEqual([{ title: 'Limit', text: 'A kiln never heats 5 K above its limit.' }])
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
  const { user, findByRole, getByRole, getByLabelText, bodiesOf, address } = show(<RequirementsPane />, {
    at: '/requirements',
    answers: {
      readMe: () => aMe(),
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

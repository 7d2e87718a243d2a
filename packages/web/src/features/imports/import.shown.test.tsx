import { describe, expect, test } from '@jest/globals'
import type { Import } from '@dystracer/core/imports/wire'
import { waitFor } from '@testing-library/react'
import { aMe, aSetup } from '#shared/test/a-me'
import { show, type Answers, type Refused } from '#shared/test/shown'
import { ImportPane } from './ImportPane'

const READ: Import = {
  importId: 'i1',
  name: 'list.csv',
  format: 'csv',
  encoding: 'windows-1252',
  phase: 'read',
  columns: ['Summary', 'Where', 'Who'],
  sample: [{ Summary: 'Relay sticks', Where: 'door', Who: 'Nell' }],
  mapping: { Summary: 'title', Who: 'owner' },
  values: {},
  seen: [],
  rows: 2,
  fresh: 0,
  known: 0,
  leftOut: 0,
  linked: 0,
  changes: [],
  changeCounts: {},
  attached: 0,
  renewed: 0,
  doneRows: 0,
  totalRows: 2,
  problems: [],
  problemCount: 0,
  why: null,
}
const TRIED: Partial<Import> = {
  phase: 'tried',
  fresh: 1,
  known: 1,
  linked: 3,
  attached: 2,
  doneRows: 2,
  seen: [{ field: 'owner', text: 'Nell <nell@x.example>', count: 1, becomes: null, isUnknown: true }],
  changes: [{ row: 3, key: 'EMB-4', field: 'own.zone', ours: 'back', theirs: 'door' }],
  changeCounts: { 'own.zone': 1 },
  problems: [
    { row: 2, column: 'Who', code: 'unknown-person', value: 'Nell' },
    { row: 3, column: 'Where', code: 'wrong-own-value', value: 'roof' },
  ],
  problemCount: 2,
}
const me = aMe({
  setup: aSetup({
    ownFields: [{ fieldId: 'zone', name: 'Zone', kind: 'one-of', choices: ['door', 'back'], types: [], colour: null, position: 0 }],
  }),
})

/** A server that reads a file, tries it and imports it. */
function aServerThatReads(given: Import | Refused = READ): Answers {
  let state = 'refused' in given ? READ : given
  return {
    readMe: () => me,
    beginImport: () => given,
    readImport: () => state,
    runImport: ({ body }) => {
      state = { ...state, ...TRIED, mapping: body.mapping, values: body.values ?? {}, phase: body.isTrial ? 'tried' : 'done' }
      return state
    },
  }
}

async function begun(answers: Answers) {
  const page = show(<ImportPane />, { answers })
  const file = await page.findByLabelText('File')
  await page.user.upload(file as HTMLInputElement, new File(['Summary,Where,Who\n'], 'list.csv', { type: 'text/csv' }))
  return page
}

describe('an import', () => {
  test('says how the file was read, what each column becomes, and lets it become a field of the project’s own', async () => {
    const { user, findByText, findByRole, bodiesOf } = await begun(aServerThatReads())
    await findByText(/list.csv: 2 rows, read as windows-1252/)
    const where = (await findByRole('combobox', { name: 'Where becomes' })) as HTMLSelectElement
    expect(where.value).toBe('')
    await user.selectOptions(where, 'Zone')
    await user.selectOptions(await findByRole('combobox', { name: 'Who becomes' }), 'nothing')
    await user.click(await findByRole('button', { name: 'Try it' }))
    await waitFor(() => expect(bodiesOf('runImport')).toHaveLength(1))
    expect(bodiesOf('runImport')[0]).toMatchObject({ mapping: { Summary: 'title', Where: 'own.zone' }, isTrial: true })
  })

  test('tells after the trial what would come of it, each problem by its place, and what differs by the name of the field', async () => {
    const { user, findByRole, findByText, findAllByText } = await begun(aServerThatReads())
    await user.click(await findByRole('button', { name: 'Try it' }))
    await findByText(/1 new item, 1 known already/)
    await findByText(/3 ties to other rows, items and requirements/)
    await findByText(/2 files from their addresses/)
    await findByText('nobody here is called so: without an owner')
    await findByText('is nothing that this field can hold: without it')
    expect((await findAllByText('Zone')).length).toBeGreaterThan(0)
    await findByRole('button', { name: 'Import 1 item' })
  })

  test('is run with what was said of unknown words, and with the fields in which the file is right', async () => {
    const { user, findByRole, findByLabelText, bodiesOf } = await begun(aServerThatReads())
    await user.click(await findByRole('button', { name: 'Try it' }))
    await user.click(await findByLabelText(/^Zone/))
    const words = await findByRole('combobox', { name: /Nell/ })
    await user.selectOptions(words, 'invite Nell')
    await user.click(await findByRole('button', { name: 'Import 1 item' }))
    await waitFor(() => expect(bodiesOf('runImport')).toHaveLength(2))
    expect(bodiesOf('runImport')[1]).toMatchObject({
      isTrial: false,
      takes: ['own.zone'],
      values: { owner: { 'Nell <nell@x.example>': '+invite' } },
    })
    await findByRole('button', { name: 'They wait in Triage' })
  })

  test('of a file that cannot be read says why, and keeps nothing', async () => {
    const { findByRole, queryByRole } = await begun(
      aServerThatReads({ refused: 'malformed-body', detail: 'In row 2 a quotation mark is opened.' }),
    )
    expect((await findByRole('alert')).textContent).toContain('In row 2 a quotation mark is opened')
    expect(queryByRole('button', { name: 'Try it' })).toBeNull()
  })

  test('is for who may: a member is told who does it', async () => {
    const member = { ...me, person: me.person && { ...me.person, role: 'member' as const } }
    const { findByText, queryByLabelText } = show(<ImportPane />, { answers: { readMe: () => member } })
    await findByText('A lead imports items.')
    expect(queryByLabelText('File')).toBeNull()
  })
})

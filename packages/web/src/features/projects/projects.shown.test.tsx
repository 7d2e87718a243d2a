import { afterEach, expect, test } from '@jest/globals'
import { waitFor, within } from '@testing-library/react'
import type { Me } from '@dystracer/core/desk/wire'
import { aMe, aSetup } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { NewProjectPane } from './NewProjectPane'
import { Projects } from './Projects'

afterEach(() => {
  // Nobody works in a project that another test chose.
  // biome-ignore lint/suspicious/noDocumentCookie: a test of what is kept in it
  document.cookie = 'dystracer_project=; path=/; max-age=0'
})

const PROJECTS = [
  { prefix: 'OLD', name: 'Old planner', isArchived: true },
  { prefix: 'EMB', name: 'Emberwick', isArchived: false },
  { prefix: 'GLZ', name: 'Glaze lab', isArchived: false },
]

/** A server that keeps projects; whoever asks is of a role. */
function projects(role: NonNullable<Me['person']>['role'] = 'admin'): Answers {
  let rows = PROJECTS
  const change = (prefix: string, to: Partial<(typeof rows)[number]>) => {
    rows = rows.map((row) => (row.prefix === prefix ? { ...row, ...to } : row))
  }
  return {
    readMe: () =>
      aMe({
        person: { personId: 'ines', name: 'Ines Calder', initials: 'IC', role },
        projects: rows,
        project: rows.find(({ prefix }) => prefix === 'EMB') ?? { prefix: 'EMB', name: 'Emberwick' },
      }),
    renameProject: ({ params, body }) => {
      if (body.name === 'Glaze lab') return { refused: 'invalid-input', fields: { name: 'Another project is called so' } }
      change(params.project ?? '', { name: body.name })
      return aSetup()
    },
    archiveProject: ({ params, body }) => {
      change(params.project ?? '', body)
      return body
    },
  }
}

test('archived projects stand last, with a way to their items; one works in another by a press', async () => {
  const { findByRole, user, address } = show(<Projects />, { answers: projects() })
  const section = within(await findByRole('region', { name: 'Projects' }))
  expect(section.getAllByRole('listitem').map(({ textContent }) => textContent?.slice(0, 3))).toEqual(['EMB', 'GLZ', 'OLD'])
  await user.click(section.getByRole('button', { name: 'its items' }))
  expect(decodeURIComponent(address())).toContain('items~project=OLD')
  await user.click(section.getByRole('button', { name: 'Work in Glaze lab' }))
  expect(document.cookie).toContain('dystracer_project=GLZ')
})

test('a project is called otherwise; a name that another has is told beside the field', async () => {
  const { findByRole, user, bodiesOf } = show(<Projects />, { answers: projects() })
  await user.click(await findByRole('button', { name: 'call it otherwise…' }))
  const dialog = within(await findByRole('dialog', { name: 'What EMB is called' }))
  const name = dialog.getByLabelText('Name')
  await user.clear(name)
  await user.type(name, 'Glaze lab')
  await user.click(dialog.getByRole('button', { name: 'Call it so' }))
  await dialog.findByText('Another project is called so')
  await user.clear(dialog.getByRole('textbox'))
  await user.type(dialog.getByRole('textbox'), 'Kiln works')
  await user.click(dialog.getByRole('button', { name: 'Call it so' }))
  expect((await findByRole('region', { name: 'Projects' })).textContent).toContain('EMB')
  await waitFor(async () => expect((await findByRole('region', { name: 'Projects' })).textContent).toContain('Kiln works'))
  expect(bodiesOf('renameProject')).toEqual([{ name: 'Glaze lab' }, { name: 'Kiln works' }])
})

test('archiving says what it means before it is done, and is taken back at the same place', async () => {
  const { findByRole, user, bodiesOf } = show(<Projects />, { answers: projects() })
  await user.click(await findByRole('button', { name: 'archive it…' }))
  const dialog = within(await findByRole('dialog', { name: 'Archive Emberwick' }))
  expect(bodiesOf('archiveProject')).toEqual([])
  dialog.getByText(/can open it again/)
  await user.click(dialog.getByRole('button', { name: 'Archive it' }))
  await user.click(await findByRole('button', { name: 'open it again' }))
  await findByRole('button', { name: 'archive it…' })
  expect(bodiesOf('archiveProject')).toEqual([{ isArchived: true }, { isArchived: false }])
})

test('a member neither renames, archives nor makes projects', async () => {
  const { findByText, queryByRole, unmount } = show(<Projects />, { answers: projects('member') })
  await findByText('you work here')
  for (const name of ['call it otherwise…', 'archive it…', 'New project…']) expect(queryByRole('button', { name })).toBeNull()
  unmount()
  const page = show(<NewProjectPane />, { answers: projects('member') })
  await page.findByText('A lead makes projects.')
})

test('a project needs only its name; its prefix is proposed, and what was left empty is not asked for', async () => {
  const { findByRole, user, bodiesOf, address } = show(<NewProjectPane />, {
    answers: {
      ...projects(),
      createProject: ({ body }) =>
        body.repositoryUrl === null
          ? { prefix: body.prefix, firstItem: null, repository: null }
          : { refused: 'invalid-input', fields: { repositoryUrl: 'This address answers nothing' } },
    },
  })
  const form = within(await findByRole('form', { name: 'New project' }))
  await user.type(form.getByLabelText('Name'), 'Kiln sharing')
  const prefix = form.getByLabelText<HTMLInputElement>(/^Prefix of its keys/).placeholder
  expect(prefix).toMatch(/^[A-Z][A-Z0-9]{1,9}$/)
  const repository = form.getByLabelText(/First repository/)
  await user.type(repository, 'https://code.example/none.git')
  await user.click(form.getByRole('button', { name: 'Begin' }))
  await form.findByText('This address answers nothing')
  expect(form.getByLabelText<HTMLInputElement>('Name').value).toBe('Kiln sharing')
  await user.clear(form.getByRole('textbox', { name: /First repository/ }))
  await user.click(form.getByRole('button', { name: 'Begin' }))
  await waitFor(() => expect(decodeURIComponent(address())).toContain(`items~open project=${prefix}`))
  expect(bodiesOf('createProject').at(-1)).toEqual({ name: 'Kiln sharing', prefix, component: null, firstItem: null, repositoryUrl: null })
})

import { expect, test } from '@jest/globals'
import type { MaintenanceLine, PickPlan } from '@dystracer/core/maintenance/wire'
import { fireEvent, waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { anItem } from '#shared/test/an-item'
import { show, type Answers } from '#shared/test/shown'
import { MaintenancePane } from './MaintenancePane'

const sha = (letter: string) => letter.repeat(40)
const change = (letter: string, subject: string, items: string[] = []) => ({
  sha: sha(letter),
  subject,
  author: 'Ines Okafor',
  atMs: 1_790_000_000_000,
  items,
})
const LINE: MaintenanceLine = {
  service: 'kiln',
  release: '4.1.2',
  repository: 'kiln',
  branch: 'maintenance/4.1',
  mainBranch: 'main',
  tip: sha('0'),
  isThere: false,
  ahead: [],
  nextName: '4.1.3',
  tagPrefix: 'v',
  changes: [change('c', 'Show the hold', ['EMB-2']), change('b', 'Bound the ramp', ['EMB-1']), change('a', 'Ramp slower')],
  more: 0,
  items: [anItem({ key: 'EMB-1', title: 'Ramps too far', type: 'defect' }), anItem({ key: 'EMB-2', title: 'Show it', type: 'task' })],
}
/** The ramp has to be there before its bound fits; what is chosen comes in the order of its history. */
const planOf = (shas: readonly string[]): PickPlan => ({
  steps: [...shas].sort().map((one) => {
    const lacks = one === sha('b') && !shas.includes(sha('a'))
    return {
      sha: one,
      state: lacks ? 'conflict' : 'fits',
      files: lacks ? ['src/heat.js'] : [],
      needs: lacks ? [{ sha: sha('a'), subject: 'Ramp slower', why: 'lines', what: 'src/heat.js' }] : [],
    }
  }),
  further: shas.includes(sha('b')) && !shas.includes(sha('a')) ? [change('a', 'Ramp slower')] : [],
})
const shown = (answers: Answers = {}, line: MaintenanceLine = LINE) =>
  show(<MaintenancePane id="kiln@4.1.2" />, {
    answers: { readMe: () => aMe(), readMaintenanceLine: () => line, tryPicks: ({ body }) => planOf(body.shas), ...answers },
  })
/** The boxes come once it is known who looks. */
const box = (page: ReturnType<typeof shown>, letter: string) =>
  waitFor(() => {
    const found = page.container.querySelector(`[data-choose="${sha(letter)}"]`)
    if (!found) throw new Error(`no box of ${letter}`)
    return found
  })
const pushes = (page: ReturnType<typeof shown>) => page.getByRole('button', { name: /^Push/ }) as HTMLButtonElement

test('what conflicts says what it needs before it, which is chosen too with one press; then the line is pushed', async () => {
  const page = shown({ makePicks: ({ body }) => ({ branch: body.branch ?? '', sha: sha('9'), release: null }) })
  await page.findByText('Bound the ramp')
  await page.user.click(await box(page, 'b'))
  await page.findByText('conflicts')
  await page.findByText(/src\/heat.js was changed there by/)
  expect(pushes(page).disabled).toBe(true)
  await page.user.click(page.getByRole('button', { name: 'choose it, too' }))
  await waitFor(() => expect(pushes(page).disabled).toBe(false))
  expect(page.getByRole('list', { name: 'In this order' }).textContent).toMatch(/Ramp slower.*Bound the ramp/)
  await page.user.click(pushes(page))
  await waitFor(() => expect(page.bodiesOf('makePicks')).toEqual([{ branch: 'maintenance/4.1', shas: [sha('a'), sha('b')], name: null }]))
  await waitFor(() => expect(decodeURIComponent(page.address())).toContain('branch~kiln,maintenance,4.1'))
})

test('Space chooses the change at hand, and a release is tagged at once if one says so', async () => {
  const page = shown({ makePicks: () => ({ branch: 'maintenance/4.1', sha: sha('9'), release: 'kiln@4.1.3' }) })
  const list = await page.findByRole('listbox')
  await box(page, 'c')
  fireEvent.keyDown(list, { key: 'ArrowDown' })
  fireEvent.keyDown(list, { key: ' ' })
  await page.findByText('1 change on maintenance/4.1')
  await page.findByText('fits')
  await page.user.click(page.getByLabelText(/tag it as a release at once/))
  expect((page.getByLabelText(/^Its name/) as HTMLInputElement).value).toBe('4.1.3')
  await page.user.click(page.getByRole('button', { name: 'Push maintenance/4.1 and tag v4.1.3' }))
  await waitFor(() => expect(page.bodiesOf('makePicks')).toEqual([{ branch: 'maintenance/4.1', shas: [sha('c')], name: '4.1.3' }]))
})

test('changes are found by their words and their items, and those for defects alone', async () => {
  const page = shown()
  await page.findByText('Bound the ramp')
  await page.user.type(page.getByLabelText('Find a change'), 'emb-2')
  await waitFor(() => expect(page.getAllByRole('option').map((row) => row.textContent)).toEqual([expect.stringContaining('Show the hold')]))
  await page.user.click(page.getByLabelText('for defects'))
  await page.findByText('No change fits. Take a word away.')
  await page.user.clear(page.getByLabelText('Find a change'))
  await waitFor(() =>
    expect(page.getAllByRole('option').map((row) => row.textContent)).toEqual([expect.stringContaining('Bound the ramp')]),
  )
})

test('a branch that is the line of something else is refused, with a way back; a reader only looks', async () => {
  const page = shown({
    readMe: () => aMe({ person: { personId: 'wren', name: 'Wren Abara', initials: 'WA', role: 'reader' } }),
    readMaintenanceLine: ({ query }) =>
      query.branch ? { refused: 'conflict', detail: `${query.branch} does not come from 4.1.2: give the line another name.` } : LINE,
  })
  await page.findByText('Bound the ramp')
  expect(page.container.querySelector('[data-choose]')).toBeNull()
  await page.user.click(page.getByRole('button', { name: 'another branch…' }))
  await page.user.clear(page.getByLabelText('Branch of the line'))
  await page.user.type(page.getByLabelText('Branch of the line'), 'strange{Enter}')
  await page.findByText(/strange does not come from 4.1.2/)
  await page.user.click(page.getByRole('button', { name: 'back to the usual line' }))
  await page.findByText('Bound the ramp')
})

test('a line that is there says what it has beyond the release; one that lacks nothing says that', async () => {
  const page = shown({}, { ...LINE, isThere: true, ahead: [change('d', 'Ramp slower')], changes: [] })
  await page.findByText(/1 commit beyond 4.1.2/)
  await page.findByText('main has nothing that this line lacks.')
})

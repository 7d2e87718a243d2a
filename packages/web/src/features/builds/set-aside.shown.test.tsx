import { expect, test } from '@jest/globals'
import type { MainLine } from '@dystracer/core/builds/wire'
import type { Build } from '@dystracer/core/code/wire'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { MainLines } from './MainLines'
import { SetAside } from './SetAside'

const AT_MS = 1_770_000_000_000
const aside = { suite: 'probe', name: 'reads', until: '2026-12-04', why: 'slow mail', by: 'person:rafe', atMs: AT_MS }
const aTest = { repository: 'kiln', suite: 'probe', name: 'reads', aside: null }

test('a test is set aside until a day with a reason; both are needed', async () => {
  const { user, findByRole, getByRole, getByLabelText, bodiesOf } = show(<SetAside test={aTest} />, {
    answers: { readMe: () => aMe(), setAside: () => ({}) },
  })
  await user.click(await findByRole('button', { name: 'Set it aside…' }))
  const deed = getByRole('button', { name: 'Set it aside' }) as HTMLButtonElement
  expect(deed.disabled).toBe(true)
  await user.type(getByLabelText('Until', { selector: 'input' }), '2026-12-04{Tab}')
  await user.type(getByLabelText('Why it does not count'), 'slow mail')
  await user.click(deed)
  expect(bodiesOf('setAside')).toEqual([{ suite: 'probe', name: 'reads', until: '2026-12-04', why: 'slow mail' }])
})

test('a refusal stands at its field, and nothing is lost', async () => {
  const { user, findByRole, getByRole, getByLabelText, findByText } = show(<SetAside test={aTest} />, {
    answers: { readMe: () => aMe(), setAside: () => ({ refused: 'invalid-input', fields: { until: 'This day is over' } }) },
  })
  await user.click(await findByRole('button', { name: 'Set it aside…' }))
  await user.type(getByLabelText('Until', { selector: 'input' }), '2020-01-01{Tab}')
  await user.type(getByLabelText('Why it does not count'), 'slow mail')
  await user.click(getByRole('button', { name: 'Set it aside' }))
  await findByText('This day is over')
  expect((getByLabelText('Why it does not count') as HTMLInputElement).value).toBe('slow mail')
})

test('what is set aside says until when, by whom and why, and counts again by a click', async () => {
  const { user, findByRole, container, bodiesOf } = show(<SetAside test={{ ...aTest, aside }} />, {
    answers: { readMe: () => aMe(), setAside: () => ({}) },
  })
  await user.click(await findByRole('button', { name: 'Count it again' }))
  expect(container.textContent).toContain('Set aside until 2026-12-04 by Rafe Lindqvist: slow mail')
  expect(bodiesOf('setAside')).toEqual([{ suite: 'probe', name: 'reads', until: null, why: '' }])
})

test('main lines that pass stand together; a broken one says since when, by whose commits, and who is on it', async () => {
  const build = (repository: string, state: Build['state']): Build => ({
    repository,
    number: 13,
    name: '13',
    sha: 'a'.repeat(40),
    branch: 'main',
    state,
    startedAtMs: AT_MS,
    finishedAtMs: AT_MS,
    passed: 1,
    failed: state === 'broke' ? 2 : 0,
    skipped: 0,
  })
  const line = (repository: string, more: Partial<MainLine> = {}): MainLine => ({
    repository,
    branch: 'main',
    newest: build(repository, 'passed'),
    brokenSince: null,
    brokenBy: [],
    takenBy: [],
    ...more,
  })
  const broken = { newest: build('kiln', 'broke'), brokenSince: build('kiln', 'broke'), brokenBy: ['Tam Adeyemi'], takenBy: ['rafe'] }
  const answers: Answers = {
    readMe: () => aMe(),
    listMainLines: () => ({ rows: [line('glaze'), line('planner'), line('kiln', broken), line('new', { newest: null })] }),
    listAside: () => ({ rows: [{ ...aside, repository: 'kiln' }] }),
  }
  const { findByText, getByRole } = show(<MainLines />, { answers })
  await findByText(/Rafe Lindqvist is on it/)
  const { textContent } = getByRole('region', { name: 'Main lines' })
  expect(textContent).toContain('since build 13')
  expect(textContent).toContain('with commits by Tam Adeyemi; Rafe Lindqvist is on it')
  expect(textContent).toContain('passes: glaze main, planner main')
  expect(textContent).not.toContain('new main')
  await findByText('1 test set aside')
})

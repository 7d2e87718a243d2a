import { describe, expect, test } from '@jest/globals'
import type { BuildLog } from '@dystracer/core/build-logs/wire'
import type { BuildDetail } from '@dystracer/core/builds/wire'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { BuildLogs } from './BuildLogs'
import { logId, placeOfLog } from './log-id'
import { LogPane } from './LogPane'
import { StyledLine } from './StyledLine'

const AT_MS = 1_770_000_000_000
const LINES = ['npm ci', 'npm WARN old', 'heating', '\u001b[31mTypeError: no probe\u001b[0m', 'not ok 2 - holds', 'done']
const aLog = (given: Partial<BuildLog> = {}): BuildLog => ({
  step: 'tests',
  attempt: 1,
  bytes: 90,
  lines: LINES.length,
  isCut: false,
  firstAtMs: AT_MS,
  lastAtMs: AT_MS,
  errors: 2,
  warnings: 1,
  marks: [
    { line: 2, kind: 'warning', text: 'npm WARN old', place: null },
    { line: 4, kind: 'error', text: 'TypeError: no probe', place: { path: 'src/probe.js', line: 7 } },
    { line: 5, kind: 'error', text: 'not ok 2 - holds', place: null },
  ],
  ...given,
})
const aBuild = (state: BuildDetail['state']): BuildDetail => ({
  repository: 'kiln',
  number: 58,
  name: '58',
  sha: 'a'.repeat(40),
  branch: 'main',
  state,
  startedAtMs: AT_MS,
  finishedAtMs: AT_MS,
  passed: 1,
  failed: 1,
  skipped: 0,
  tests: [],
  steps: [],
  coverage: [],
  items: [],
  pullRequest: null,
  passedBefore: 0,
})
const answers = (rows: BuildLog[], given: Answers = {}): Answers => ({
  readMe: () => aMe(),
  readBuild: () => aBuild('broke'),
  listBuildLogs: () => ({ rows }),
  readLogLines: ({ query }) => {
    const from = Number(query.from)
    return { from, lines: LINES.slice(from - 1, from - 1 + Number(query.count)), total: LINES.length }
  },
  findInLog: ({ query }) => ({ lines: LINES.flatMap((line, at) => (line.includes(query.text ?? '') ? [at + 1] : [])), isMore: false }),
  ...given,
})
const pane = (line: number | null = null) => {
  const id = logId({ repository: 'kiln', number: '58', step: 'tests', attempt: 1, line })
  return { id, at: `/build-log~${encodeURIComponent(id.replaceAll('/', ','))}` }
}
/** What an address says of the chosen line. */
const lineIn = (address: string) => /%3A(\d+)$|:(\d+)$/.exec(address)?.slice(1).find(Boolean)

describe('logs of a build', () => {
  test('stand with their counts; the first errors lead to their lines and to the code that they name', async () => {
    const { findByRole, getByRole, getByText } = show(<BuildLogs repository="kiln" number={58} isRunning={false} steps={[]} />, {
      answers: answers([aLog(), aLog({ attempt: 2, errors: 0, warnings: 0, marks: [] })]),
    })
    expect((await findByRole('link', { name: 'line 4' })).getAttribute('href')).toContain('build-log~kiln,58,tests%231%3A4')
    expect(getByRole('link', { name: 'probe.js:7' }).getAttribute('href')).toContain('file~kiln,src,probe.js%3A7')
    getByText('2 errors')
    getByText('1 warning')
    getByText('attempt 2')
  })

  test('say nothing where nothing was sent', async () => {
    const { container, asked } = show(<BuildLogs repository="kiln" number={58} isRunning={false} steps={[]} />, { answers: answers([]) })
    while (asked.length === 0) await new Promise((resolve) => setTimeout(resolve, 5))
    expect(container.textContent).toBe('')
  })
})

describe('a log', () => {
  test('goes from error to error by keys, and says which file the chosen line names', async () => {
    const { id, at } = pane(4)
    const { findByText, getByRole, user, address } = show(<LogPane id={id} />, { answers: answers([aLog()]), at })
    await findByText('error 1 of 2')
    expect(getByRole('link', { name: 'src/probe.js' })).toBeTruthy()
    getByRole('listbox', { name: 'Lines' }).focus()
    await user.keyboard('e')
    expect(lineIn(address())).toBe('5')
    await user.keyboard('{ArrowDown}')
    expect(lineIn(address())).toBe('5')
  })

  test('finds a text, says where it stands, and goes there by Enter', async () => {
    const { id, at } = pane()
    const { findByRole, findByText, user, address, asked } = show(<LogPane id={id} />, { answers: answers([aLog()]), at })
    const field = await findByRole('searchbox', { name: 'Find in the log' })
    await user.type(field, 'o')
    await findByText('4 lines')
    await user.type(field, '{Enter}')
    expect(lineIn(address())).toBe('2')
    await user.type(field, ' moon')
    await findByText('nowhere')
    expect(asked.filter((call) => call.name === 'findInLog').at(-1)?.query).toMatchObject({ step: 'tests', attempt: '1', text: 'o moon' })
  })

  test('that is not here any more says so; one that was cut says that, too', async () => {
    const { id, at } = pane()
    const gone = show(<LogPane id={id} />, { answers: answers([]), at })
    await gone.findByText(/No log of this step is here/)
    gone.unmount()
    const cut = show(<LogPane id={id} />, { answers: answers([aLog({ isCut: true })]), at })
    await cut.findByText('6 lines, the rest is not kept')
    expect(cut.getByRole('link', { name: 'as text' }).getAttribute('href')).toBe('/api/v1/builds/kiln/58/logs/text?step=tests&attempt=1')
  })
})

test('a line keeps the colours of its program in those of the paper', () => {
  const { getByText, container } = show(<StyledLine text={'a \u001b[1;31mbroke\u001b[0m b'} />)
  expect(getByText('broke').className).toBe('text-fault font-bold')
  expect(container.textContent).toBe('a broke b')
})

test.each([
  ['kiln/58/tests#2:120', { repository: 'kiln', number: '58', step: 'tests', attempt: 2, line: 120 }],
  ['kiln/58/lint/web: a:5#1:0', { repository: 'kiln', number: '58', step: 'lint/web: a:5', attempt: 1, line: null }],
  ['kiln/58/log', { repository: 'kiln', number: '58', step: 'log', attempt: 1, line: null }],
])('the id %s names a place, and the place the id', (id, place) => {
  expect(placeOfLog(id)).toEqual(place)
  expect(placeOfLog(logId(place))).toEqual(place)
})

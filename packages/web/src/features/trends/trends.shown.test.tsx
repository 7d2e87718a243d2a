import { expect, test } from '@jest/globals'
import type { BuildCoverage, PinnedChart, Trend, TrendBuild } from '@dystracer/core/trends/wire'
import { waitFor, within } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { Covered } from './Covered'
import { PinnedPane } from './PinnedPane'
import { TrendsPane } from './TrendsPane'

const aBuild = (number: number, more: Partial<TrendBuild> = {}): TrendBuild => ({
  number,
  name: String(number),
  atMs: number * 86_400_000,
  passed: 10,
  failed: 0,
  skipped: 0,
  flaky: 0,
  durationMs: 45_000,
  covered: null,
  findings: null,
  ...more,
})
const trend: Trend = {
  repository: 'kiln',
  branch: 'main',
  builds: [aBuild(1), aBuild(2, { failed: 1, findings: { bug: 1, weakness: 0, smell: 2 }, covered: 81.5 })],
}
function withPins(content: React.ReactNode, charts: PinnedChart[]) {
  return show(content, {
    answers: {
      readMe: () => aMe(),
      readTrend: () => trend,
      listPinnedCharts: () => ({ charts }),
      setPinnedCharts: ({ body }) => {
        charts = body.charts
        return { charts }
      },
    },
  })
}

test('each chart says its newest value, has its numbers in a table, and is pinned where it stands', async () => {
  const { user, findByRole, getByRole, bodiesOf } = withPins(<TrendsPane id="kiln" />, [])
  const tests = await findByRole('region', { name: 'Tests, by build' })
  expect(tests.textContent).toContain('10 tests passed, 1 failed')
  const [head, newest, oldest] = within(tests).getAllByRole('row', { hidden: true })
  expect([head, newest, oldest].map((row) => row?.textContent)).toEqual([
    'buildwhenpassedfailedskipped',
    expect.stringMatching(/^2.*1010$/),
    expect.stringMatching(/^1.*1000$/),
  ])
  // Of what only one build reported there is one point.
  const covered = getByRole('region', { name: 'Lines that tests run, of a hundred, by build' })
  expect(within(covered).getAllByRole('row', { hidden: true })).toHaveLength(2)
  await user.click(await findByRole('button', { name: 'pin: Findings' }))
  await findByRole('button', { name: 'unpin: Findings' })
  expect(bodiesOf('setPinnedCharts')).toEqual([{ charts: [{ chart: 'findings', repository: 'kiln' }] }])
})

test('pinned charts are moved by keys and taken away; none where nothing is pinned', async () => {
  const { user, findByRole, findByText, bodiesOf } = withPins(<PinnedPane />, [
    { chart: 'tests', repository: 'kiln' },
    { chart: 'findings', repository: 'kiln' },
  ])
  await user.click(await findByRole('button', { name: 'further down: kiln: Tests' }))
  await waitFor(() => expect(bodiesOf('setPinnedCharts')).toHaveLength(1))
  expect(bodiesOf('setPinnedCharts')[0]).toMatchObject({ charts: [{ chart: 'findings' }, { chart: 'tests' }] })
  // The last goes no further.
  await user.click(await findByRole('button', { name: 'further down: kiln: Tests' }))
  await user.click(await findByRole('button', { name: 'unpin: kiln: Tests' }))
  await waitFor(() => expect(bodiesOf('setPinnedCharts')).toHaveLength(2))
  await user.click(await findByRole('button', { name: 'unpin: kiln: Findings' }))
  await findByText(/Nothing is pinned yet/)
})

const file = (path: string, more: Partial<BuildCoverage['files'][number]> = {}) => ({
  path,
  covered: 8,
  missed: 2,
  missedLines: '4-5',
  more: 0,
  ...more,
})

test('what fell is told with the files because of which it did, and first the lines that failed in production untested', async () => {
  const { findByRole, findByText, getByRole } = show(<Covered repository="kiln" number={7} />, {
    answers: {
      readBuildCoverage: ({ params }) => {
        expect(params).toEqual({ repository: 'kiln', number: '7' })
        return {
          covered: 24,
          missed: 6,
          before: { number: 6, name: '6', covered: 27, missed: 3 },
          files: [file('src/kiln/probe.js', { more: 3 }), file('src/kiln/door.js'), file('src/panel.js')],
        }
      },
      listUncoveredFailures: () => ({
        rows: [{ path: 'src/kiln/probe.js', line: 5, source: 'return raw.celsius', fault: 'F-6', title: 'TypeError: raw is undefined' }],
      }),
    },
  })
  const region = await findByRole('region', { name: 'Covered' })
  expect(region.textContent).toMatch(/80\.0 % of 30 lines in 3 files; 10\.0 fewer than in build 6/)
  expect(region.textContent).toMatch(/Fewer lines are run in src\/kiln\/probe\.js \(−3\)/)
  await findByText('return raw.celsius')
  expect(getByRole('link', { name: 'F-6' })).toBeTruthy()
  const folders = within(getByRole('list', { name: 'By folder', hidden: true })).getAllByRole('listitem', { hidden: true })
  expect(folders.map((row) => row.textContent)).toEqual(['src/80.0 % in 3 files', 'src/kiln/80.0 % in 2 files'])
})

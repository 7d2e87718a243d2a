import type { Trend, TrendBuild, TrendChart } from '@dystracer/core/trends/wire'
import type { BarSeries } from '#shared/charts/BarChart'
import { durationText, plural } from '#shared/lib/format'

/** How a chart of a repository is drawn and told. */
export interface TrendLook {
  name: string
  /** Bars that stand on one another; or one line. */
  bars?: readonly { of: (build: TrendBuild) => number; colour: BarSeries['colour'] }[]
  line?: (build: TrendBuild) => number | null
  /** Beyond which no value of the line can be. */
  max?: number
  columns: readonly string[]
  cells: (build: TrendBuild) => string[]
  /** Of the newest build of which it is known. */
  note: (build: TrendBuild) => string
  isKnown: (build: TrendBuild) => boolean
}

const percent = (value: number) => `${value} %`
const sumOf = ({ bug, weakness, smell }: NonNullable<TrendBuild['findings']>) => bug + weakness + smell

export const TREND_LOOK: Record<TrendChart, TrendLook> = {
  tests: {
    name: 'Tests',
    bars: [
      { of: ({ passed }) => passed, colour: '--proof' },
      { of: ({ failed }) => failed, colour: '--fault' },
      { of: ({ skipped }) => skipped, colour: '--ink-3' },
    ],
    columns: ['passed', 'failed', 'skipped'],
    cells: ({ passed, failed, skipped }) => [String(passed), String(failed), String(skipped)],
    note: ({ passed, failed }) => `${plural(passed, 'test')} passed${failed > 0 ? `, ${failed} failed` : ''}`,
    isKnown: ({ passed, failed, skipped }) => passed + failed + skipped > 0,
  },
  duration: {
    name: 'How long a build takes, in seconds',
    line: ({ durationMs }) => (durationMs === null ? null : Math.round(durationMs / 1000)),
    columns: ['took'],
    cells: ({ durationMs }) => [durationMs === null ? '–' : durationText(durationMs)],
    note: ({ durationMs }) => durationText(durationMs ?? 0),
    isKnown: ({ durationMs }) => durationMs !== null,
  },
  coverage: {
    name: 'Lines that tests run, of a hundred',
    line: ({ covered }) => covered,
    max: 100,
    columns: ['run'],
    cells: ({ covered }) => [covered === null ? '–' : percent(covered)],
    note: ({ covered }) => percent(covered ?? 0),
    isKnown: ({ covered }) => covered !== null,
  },
  flaky: {
    name: 'Flaky tests, of a hundred that ran',
    line: (build) => {
      const ran = build.passed + build.failed + build.flaky
      return ran === 0 ? null : Math.round((build.flaky / ran) * 1000) / 10
    },
    columns: ['flaky'],
    cells: ({ flaky }) => [String(flaky)],
    note: ({ flaky }) => plural(flaky, 'flaky test'),
    isKnown: ({ passed, failed, flaky }) => passed + failed + flaky > 0,
  },
  findings: {
    name: 'Findings',
    bars: [
      { of: ({ findings }) => findings?.bug ?? 0, colour: '--fault' },
      { of: ({ findings }) => findings?.weakness ?? 0, colour: '--ochre' },
      { of: ({ findings }) => findings?.smell ?? 0, colour: '--ink-3' },
    ],
    columns: ['bugs', 'weaknesses', 'smells'],
    cells: ({ findings }) => (findings ? [findings.bug, findings.weakness, findings.smell].map(String) : ['–', '–', '–']),
    note: ({ findings }) =>
      findings && sumOf(findings) > 0
        ? `${plural(findings.bug, 'bug')}, ${plural(findings.weakness, 'weakness', 'weaknesses')}, ${plural(findings.smell, 'smell')}`
        : 'nothing was found',
    isKnown: ({ findings }) => findings !== null,
  },
}

/** The builds of a trend of which a chart knows something. */
export function knownBuilds(trend: Trend, chart: TrendChart): TrendBuild[] {
  return trend.builds.filter(TREND_LOOK[chart].isKnown)
}

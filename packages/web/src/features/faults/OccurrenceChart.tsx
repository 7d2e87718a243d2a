import type { Plugin } from 'chart.js'
import { useMemo } from 'react'
import { axisDate, shortDate } from '#shared/lib/format'
import { BarChart, type BarSeries, CHART_FONT } from '#shared/charts/BarChart'

const BARS = 30

/** When a release was first seen with the fault. */
export interface ReleaseMark {
  release: string
  atMs: number
}

/** Occurrences over time in thirty bars, with a line where each release was first seen; the same numbers stand in a table behind it. */
export function OccurrenceChart({
  byMinute,
  releases = [],
}: {
  byMinute: { atMs: number; count: number }[]
  releases?: readonly ReleaseMark[]
}) {
  const bars = useMemo(() => toBars(byMinute), [byMinute])
  const drawn = useMemo(
    () => ({
      labels: bars.map((bar) => axisDate(bar.atMs, { fromMs: bars[0]?.atMs ?? 0, toMs: bars.at(-1)?.atMs ?? 0 })),
      series: [{ values: bars.map((bar) => bar.count), colour: '--fault' }] satisfies BarSeries[],
      pluginsOf: (colourOf: (token: string) => string) => [
        releaseLines(bars, releases, { line: colourOf('--proof'), text: colourOf('--ink-2') }),
      ],
    }),
    [bars, releases],
  )
  return (
    <>
      <BarChart label="Occurrences over time" {...drawn} paddingTopPx={releases.length > 0 ? 14 : 0} />
      <details className="text-[12px]">
        <summary className="link">as a table</summary>
        <table>
          <tbody>
            {bars
              .filter((bar) => bar.count > 0)
              .map((bar) => (
                <tr key={bar.atMs}>
                  <td className="pr-4">{shortDate(bar.atMs)}</td>
                  <td>{bar.count}</td>
                </tr>
              ))}
          </tbody>
        </table>
      </details>
    </>
  )
}

/** Draws a line with its name where each release was first seen; names that would lie on one another are left out. */
function releaseLines(
  bars: readonly { atMs: number }[],
  releases: readonly ReleaseMark[],
  colour: { line: string; text: string },
): Plugin<'bar'> {
  return {
    id: 'releases',
    afterDatasetsDraw: ({ ctx, chartArea }) => {
      const first = bars[0]?.atMs ?? 0
      const widthMs = (bars[1]?.atMs ?? first + 1) - first
      let freeFromPx = Number.NEGATIVE_INFINITY
      ctx.save()
      ctx.font = `11px ${CHART_FONT}`
      for (const { release, atMs } of releases) {
        const x = chartArea.left + ((atMs - first) / (widthMs * bars.length)) * (chartArea.right - chartArea.left)
        if (x < chartArea.left - 1 || x > chartArea.right + 1) continue
        ctx.fillStyle = colour.line
        ctx.fillRect(x, chartArea.top - 4, 1, chartArea.bottom - chartArea.top + 4)
        if (x < freeFromPx) continue
        const widthPx = ctx.measureText(release).width
        const left = Math.min(x + 2, chartArea.right - widthPx)
        ctx.fillStyle = colour.text
        ctx.fillText(release, left, chartArea.top - 5)
        freeFromPx = left + widthPx + 6
      }
      ctx.restore()
    },
  }
}

function toBars(byMinute: readonly { atMs: number; count: number }[]): { atMs: number; count: number }[] {
  const first = byMinute[0]?.atMs ?? 0
  const widthMs = Math.max(60_000, ((byMinute.at(-1)?.atMs ?? first) - first + 60_000) / BARS)
  const bars = Array.from({ length: BARS }, (_, index) => ({ atMs: first + index * widthMs, count: 0 }))
  for (const minute of byMinute) {
    const bar = bars[Math.min(BARS - 1, Math.floor((minute.atMs - first) / widthMs))]
    if (bar) bar.count += minute.count
  }
  return bars
}

import { BarController, BarElement, CategoryScale, Chart, type ChartConfiguration, LinearScale, type Plugin } from 'chart.js'
import { useCallback, useRef } from 'react'
import { useChart } from './use-chart'

Chart.register(BarController, BarElement, CategoryScale, LinearScale)
/** The face in which charts write; what draws on a chart by itself writes in it, too. */
export const CHART_FONT = '"Atkinson Hyperlegible Next Variable", sans-serif'
Chart.defaults.font.family = CHART_FONT

/** Values of one kind, in the colour of a token such as `--fault`; series stand on one another. */
export interface BarSeries {
  values: readonly number[]
  colour: '--fault' | '--proof' | '--ink-3' | '--ochre'
}

/** Bars over time; whoever shows them puts the same numbers into a table behind. Colours are read when it is drawn. */
export function BarChart({
  label,
  labels,
  series,
  pluginsOf,
  paddingTopPx = 0,
  onPick,
}: {
  label: string
  labels: readonly string[]
  series: readonly BarSeries[]
  /** Further drawing, given how colours are read. */
  pluginsOf?: (colourOf: (token: string) => string) => Plugin<'bar'>[]
  paddingTopPx?: number
  /** What a click on a bar does, with its place; the table behind has to do the same by keys. */
  onPick?: (at: number) => void
}) {
  const pick = useRef(onPick)
  pick.current = onPick
  const hasPick = onPick !== undefined
  const make = useCallback(
    (colourOf: (token: string) => string): ChartConfiguration<'bar', number[], string> => ({
      type: 'bar',
      plugins: pluginsOf?.(colourOf) ?? [],
      data: {
        labels: [...labels],
        datasets: series.map(({ values, colour }) => ({ data: [...values], backgroundColor: colourOf(colour) })),
      },
      options: {
        animation: false,
        ...(hasPick && { onClick: (_, [element]) => element && pick.current?.(element.index) }),
        layout: { padding: { top: paddingTopPx } },
        maintainAspectRatio: false,
        scales: {
          x: { stacked: true, ticks: { maxTicksLimit: 4, color: colourOf('--ink-2') }, grid: { display: false } },
          y: { stacked: true, beginAtZero: true, ticks: { precision: 0, maxTicksLimit: 3, color: colourOf('--ink-2') } },
        },
      },
    }),
    [labels, series, pluginsOf, paddingTopPx, hasPick],
  )
  const canvas = useChart(make)
  return (
    <div className="h-[110px]">
      <canvas ref={canvas} role="img" aria-label={label} />
    </div>
  )
}

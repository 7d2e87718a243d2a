import { CategoryScale, Chart, type ChartConfiguration, LinearScale, LineController, LineElement, PointElement } from 'chart.js'
import { useCallback, useRef } from 'react'
import { CHART_FONT } from './BarChart'
import { useChart } from './use-chart'

Chart.register(CategoryScale, LinearScale, LineController, LineElement, PointElement)
Chart.defaults.font.family = CHART_FONT

/** One value over time as a line, which is broken where nothing is known; whoever shows it puts the same numbers into a table behind. */
export function LineChart({
  label,
  labels,
  values,
  max,
  onPick,
}: {
  label: string
  labels: readonly string[]
  values: readonly (number | null)[]
  /** Beyond which no value can be. */
  max?: number | undefined
  /** What a click on a point does, with its place; the table behind has to do the same by keys. */
  onPick: (at: number) => void
}) {
  const pick = useRef(onPick)
  pick.current = onPick
  const make = useCallback(
    (colourOf: (token: string) => string): ChartConfiguration<'line', (number | null)[], string> => ({
      type: 'line',
      data: {
        labels: [...labels],
        datasets: [
          {
            data: [...values],
            borderColor: colourOf('--ink'),
            backgroundColor: colourOf('--ink'),
            borderWidth: 1.5,
            pointRadius: 2,
            tension: 0,
          },
        ],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        onClick: (_, [element]) => element && pick.current(element.index),
        scales: {
          x: { ticks: { maxTicksLimit: 4, color: colourOf('--ink-2') }, grid: { display: false } },
          y: { grace: '10%', ...(max !== undefined && { max }), ticks: { maxTicksLimit: 3, color: colourOf('--ink-2') } },
        },
      },
    }),
    [labels, values, max],
  )
  const canvas = useChart(make)
  return (
    <div className="h-[110px]">
      <canvas ref={canvas} role="img" aria-label={label} />
    </div>
  )
}

import { Chart, LineController, LineElement, PointElement } from 'chart.js'
import { useEffect, useRef } from 'react'
import './BarChart'

Chart.register(LineController, LineElement, PointElement)

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
  const canvas = useRef<HTMLCanvasElement>(null)
  // Chart.js draws on the canvas itself.
  useEffect(() => {
    if (!canvas.current?.getContext('2d')) return
    const style = getComputedStyle(document.documentElement)
    const colourOf = (token: string) => style.getPropertyValue(token)
    const chart = new Chart(canvas.current, {
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
    })
    return () => chart.destroy()
  }, [labels, values, max])
  return (
    <div className="h-[110px]">
      <canvas ref={canvas} role="img" aria-label={label} />
    </div>
  )
}

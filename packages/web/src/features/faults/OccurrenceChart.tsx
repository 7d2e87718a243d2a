import { BarController, BarElement, CategoryScale, Chart, LinearScale } from 'chart.js'
import { useEffect, useRef } from 'react'
import { shortDate } from '../../shared/lib/format'

Chart.register(BarController, BarElement, CategoryScale, LinearScale)
const BARS = 30

/** Occurrences over time in thirty bars, with the same numbers as a table behind it. */
export function OccurrenceChart({ byMinute }: { byMinute: { atMs: number; count: number }[] }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const bars = toBars(byMinute)
  // Chart.js draws on the canvas itself.
  useEffect(() => {
    if (!canvas.current) return
    const style = getComputedStyle(document.documentElement)
    const chart = new Chart(canvas.current, {
      type: 'bar',
      data: {
        labels: bars.map((bar) => shortDate(bar.atMs)),
        datasets: [{ data: bars.map((bar) => bar.count), backgroundColor: style.getPropertyValue('--fault') }],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        scales: {
          x: { ticks: { maxTicksLimit: 4, color: style.getPropertyValue('--ink-2') }, grid: { display: false } },
          y: { beginAtZero: true, ticks: { precision: 0, maxTicksLimit: 3, color: style.getPropertyValue('--ink-2') } },
        },
      },
    })
    return () => chart.destroy()
  }, [bars])
  return (
    <>
      <div className="h-[110px]">
        <canvas ref={canvas} role="img" aria-label="Occurrences over time" />
      </div>
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

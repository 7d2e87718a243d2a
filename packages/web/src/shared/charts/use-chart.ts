import { Chart, type ChartConfiguration, type ChartType } from 'chart.js'
import { useEffect, useRef, type RefObject } from 'react'

/**
 * A canvas on which Chart.js draws, anew whenever `make` is another function. Colours are tokens such as `--fault`, read when it is drawn.
 * Where there is nothing to draw on nothing is drawn: whoever shows it puts the same numbers into a table behind.
 */
export function useChart<Type extends ChartType, Value>(
  make: (colourOf: (token: string) => string) => ChartConfiguration<Type, Value[], string>,
): RefObject<HTMLCanvasElement | null> {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    if (!canvas.current?.getContext('2d')) return undefined
    const style = getComputedStyle(document.documentElement)
    const chart = new Chart(
      canvas.current,
      make((token) => style.getPropertyValue(token)),
    )
    return () => chart.destroy()
  }, [make])
  return canvas
}

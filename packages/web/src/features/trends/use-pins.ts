import { keyOfChart, type PinnedChart } from '@dystracer/core/trends/wire'
import { usePeople } from '#features/people/index'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { usePinnedChartsQuery, useSetPinnedChartsMutation } from './trends.api'

/** The charts that the project in which somebody works has pinned, and how they are pinned, moved and taken away. */
export function usePins() {
  const { me, may } = usePeople()
  const project = me?.project.prefix ?? ''
  const { data, error, isLoading } = usePinnedChartsQuery(project, { skip: project === '' })
  const [set, { isLoading: isSaving }] = useSetPinnedChartsMutation()
  const charts = data?.charts ?? []
  const save = (next: PinnedChart[]) => void set({ project, charts: next }).then(tellRefusal)
  const without = (chart: PinnedChart) => charts.filter((one) => keyOfChart(one) !== keyOfChart(chart))
  return {
    charts,
    error,
    isLoading: isLoading || project === '',
    canPin: data !== undefined && !isSaving && may('views.save'),
    isPinned: (chart: PinnedChart) => without(chart).length < charts.length,
    pin: (chart: PinnedChart) => save([...charts, chart]),
    unpin: (chart: PinnedChart) => save(without(chart)),
    /** Puts a chart so many places further on; before the first and after the last it stays. */
    move: (chart: PinnedChart, by: -1 | 1) => {
      const at = charts.findIndex((one) => keyOfChart(one) === keyOfChart(chart))
      const to = at + by
      if (at < 0 || to < 0 || to >= charts.length) return
      const rest = without(chart)
      save([...rest.slice(0, to), chart, ...rest.slice(to)])
    },
  }
}

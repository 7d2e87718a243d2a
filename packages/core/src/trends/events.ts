import type { PinnedChart } from './wire.js'

/** The journal's events of trends and their bodies. */
export interface TrendsEvents {
  /** The charts that a project pinned, all of them in their order. */
  'pinned-charts-set': { project: string; charts: PinnedChart[] }
}

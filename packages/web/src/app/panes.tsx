import { lazy, type ComponentType } from 'react'
import { DeskPane } from '../features/desk'

/** The pane of each kind of place and thing; what the first screen does not need is loaded when it is opened. */
export const PANES: Record<string, ComponentType<{ id: string }>> = {
  desk: DeskPane,
  items: lazy(() => import('../features/items').then((module) => ({ default: module.ItemsPane }))),
  item: lazy(() => import('../features/items').then((module) => ({ default: module.ItemPane }))),
  inbox: lazy(() => import('../features/inbox').then((module) => ({ default: module.InboxPane }))),
  time: lazy(() => import('../features/items').then((module) => ({ default: module.TimePane }))),
  settings: lazy(() => import('../features/settings').then((module) => ({ default: module.SettingsPane }))),
  triage: lazy(() => import('../features/triage').then((module) => ({ default: module.TriagePane }))),
  decision: lazy(() => import('../features/triage').then((module) => ({ default: module.DecisionPane }))),
  board: lazy(() => import('../features/board').then((module) => ({ default: module.BoardPane }))),
  import: lazy(() => import('../features/items').then((module) => ({ default: module.ImportPane }))),
  weeks: lazy(() => import('../features/triage').then((module) => ({ default: module.WeeksPane }))),
  routing: lazy(() => import('../features/triage').then((module) => ({ default: module.RoutingPane }))),
  choices: lazy(() => import('../features/inbox').then((module) => ({ default: module.ChoicesPane }))),
  faults: lazy(() => import('../features/faults').then((module) => ({ default: module.FaultsPane }))),
  fault: lazy(() => import('../features/faults').then((module) => ({ default: module.FaultPane }))),
  code: lazy(() => import('../features/code').then((module) => ({ default: module.CodePane }))),
  commit: lazy(() => import('../features/code').then((module) => ({ default: module.CommitPane }))),
  branch: lazy(() => import('../features/code').then((module) => ({ default: module.BranchPane }))),
  'pull-request': lazy(() => import('../features/code').then((module) => ({ default: module.PullRequestPane }))),
  builds: lazy(() => import('../features/builds').then((module) => ({ default: module.BuildsPane }))),
  build: lazy(() => import('../features/builds').then((module) => ({ default: module.BuildPane }))),
  releases: lazy(() => import('../features/releases').then((module) => ({ default: module.ReleasesPane }))),
  release: lazy(() => import('../features/releases').then((module) => ({ default: module.ReleasePane }))),
  requirements: lazy(() => import('../features/requirements').then((module) => ({ default: module.RequirementsPane as ComponentType<object> }))),
  requirement: lazy(() => import('../features/requirements').then((module) => ({ default: module.RequirementPane }))),
  trace: lazy(() => import('../features/trace').then((module) => ({ default: module.TracePane }))),
  thread: lazy(() => import('../features/trace').then((module) => ({ default: module.ThreadPane }))),
}

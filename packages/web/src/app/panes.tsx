import { lazy, type ComponentType } from 'react'
import { DeskPane } from '#features/desk/index'

/** The pane of each kind of place and thing; what the first screen does not need is loaded when it is opened. */
export const PANES: Record<string, ComponentType<{ id: string }>> = {
  desk: DeskPane,
  items: lazy(() => import('#features/items/index').then((module) => ({ default: module.ItemsPane }))),
  item: lazy(() => import('#features/items/index').then((module) => ({ default: module.ItemPane }))),
  inbox: lazy(() => import('#features/inbox/index').then((module) => ({ default: module.InboxPane }))),
  time: lazy(() => import('#features/talk/index').then((module) => ({ default: module.TimePane }))),
  settings: lazy(() => import('#features/setup/index').then((module) => ({ default: module.SettingsPane }))),
  you: lazy(() => import('#features/people/ProfilePane').then((module) => ({ default: module.ProfilePane as ComponentType<object> }))),
  triage: lazy(() => import('#features/triage/index').then((module) => ({ default: module.TriagePane }))),
  decision: lazy(() => import('#features/triage/index').then((module) => ({ default: module.DecisionPane }))),
  board: lazy(() => import('#features/board/index').then((module) => ({ default: module.BoardPane }))),
  calendar: lazy(() => import('#features/calendar/index').then((module) => ({ default: module.CalendarPane }))),
  outline: lazy(() => import('#features/outline/index').then((module) => ({ default: module.OutlinePane }))),
  'new-project': lazy(() =>
    import('#features/projects/index').then((module) => ({ default: module.NewProjectPane as ComponentType<object> })),
  ),
  import: lazy(() => import('#features/imports/index').then((module) => ({ default: module.ImportPane }))),
  weeks: lazy(() => import('#features/triage/index').then((module) => ({ default: module.WeeksPane }))),
  routing: lazy(() => import('#features/routing/index').then((module) => ({ default: module.RoutingPane }))),
  choices: lazy(() => import('#features/inbox/index').then((module) => ({ default: module.ChoicesPane }))),
  faults: lazy(() => import('#features/faults/index').then((module) => ({ default: module.FaultsPane }))),
  fault: lazy(() => import('#features/faults/index').then((module) => ({ default: module.FaultPane }))),
  occurrence: lazy(() => import('#features/faults/index').then((module) => ({ default: module.OccurrencePane }))),
  connect: lazy(() => import('#features/faults/index').then((module) => ({ default: module.ConnectPane as ComponentType<object> }))),
  code: lazy(() => import('#features/code/index').then((module) => ({ default: module.CodePane }))),
  commit: lazy(() => import('#features/code/index').then((module) => ({ default: module.CommitPane }))),
  branch: lazy(() => import('#features/code/index').then((module) => ({ default: module.BranchPane }))),
  'pull-request': lazy(() => import('#features/code/index').then((module) => ({ default: module.PullRequestPane }))),
  builds: lazy(() => import('#features/builds/index').then((module) => ({ default: module.BuildsPane }))),
  build: lazy(() => import('#features/builds/index').then((module) => ({ default: module.BuildPane }))),
  releases: lazy(() => import('#features/releases/index').then((module) => ({ default: module.ReleasesPane }))),
  release: lazy(() => import('#features/releases/index').then((module) => ({ default: module.ReleasePane }))),
  requirements: lazy(() =>
    import('#features/requirements/index').then((module) => ({ default: module.RequirementsPane as ComponentType<object> })),
  ),
  requirement: lazy(() => import('#features/requirements/index').then((module) => ({ default: module.RequirementPane }))),
  trace: lazy(() => import('#features/threads/index').then((module) => ({ default: module.TracePane }))),
  thread: lazy(() => import('#features/threads/index').then((module) => ({ default: module.ThreadPane }))),
}

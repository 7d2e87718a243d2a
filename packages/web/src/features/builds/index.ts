export { Badges } from './Badges'
export { BuildPane, BuildsPane } from './BuildPanes'
export { ReportBuilds } from './ReportBuilds'
export { TestPane } from './TestPane'

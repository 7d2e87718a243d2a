export { BuildPane, BuildsPane } from './BuildPanes'
export { ReportBuilds } from './ReportBuilds'

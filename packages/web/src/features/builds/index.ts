export { BuildPane, BuildsPane } from './BuildPanes'

export { ExplorationDialog } from './ExplorationDialog'
export { ExplorationPane } from './ExplorationPane'
export { Explorations } from './Explorations'

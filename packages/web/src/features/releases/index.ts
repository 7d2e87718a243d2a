export { Environments } from './Environments'
export { ReleasePane } from './ReleasePane'
export { ReleasesPane } from './ReleasesPane'
export { FiguresPane } from './FiguresPane'

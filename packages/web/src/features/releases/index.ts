export { Environments } from './Environments'
export { ReleasePane, ReleasesPane } from './ReleasePanes'

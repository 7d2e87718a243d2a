export { ReleasePane, ReleasesPane } from './ReleasePanes'

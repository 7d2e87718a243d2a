// What other subjects may use of sync.
export { RepositorySync } from './repository-sync.js'

export { BuildFiles } from './BuildFiles'
export { ReleaseFiles } from './ReleaseFiles'

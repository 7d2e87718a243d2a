export { PackagePane } from './PackagePane'
export { ReleasePackages } from './ReleasePackages'

export { AsideFindings } from './AsideFindings'
export { FoundList } from './FoundList'

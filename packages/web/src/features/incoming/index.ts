export { FollowPage } from './FollowPage'
export { PublicReportPage } from './PublicReportPage'

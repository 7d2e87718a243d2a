export { FollowPage } from './FollowPage'
export { PublicReportPage } from './PublicReportPage'
export { WebhookSettings } from './WebhookSettings'

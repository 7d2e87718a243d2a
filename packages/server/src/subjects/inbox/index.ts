// What other subjects may use of inbox.
export { countUnread, notify, reporterOf } from './notices.js'
export { readReplyAddress, readReportToken, reportToken } from './reply-address.js'

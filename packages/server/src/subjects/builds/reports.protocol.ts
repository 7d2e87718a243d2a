import type { ReportFormat } from '@dystracer/core/builds/report-format'
import type { ReportContent } from '@dystracer/core/builds/reports/report'

/** What became of reading a report: its content, or why it was not taken, in words. */
export type ReadReport = { isRead: true; content: ReportContent } | { isRead: false; why: string }
/** What the thread that reads reports does. */
export interface ReportsMethods {
  read: { input: { format: ReportFormat; bytes: Uint8Array }; output: ReadReport }
}

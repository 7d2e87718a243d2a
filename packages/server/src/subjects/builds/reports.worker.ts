import { readReport } from '@dystracer/core/builds/reports/read-report'
import { ReportFormatError } from '@dystracer/core/builds/reports/report'
import { serveCalls } from '#platform/threads/serve-calls'
import type { ReadReport, ReportsMethods } from './reports.protocol.js'

serveCalls(
  {
    read: ({ format, bytes }: ReportsMethods['read']['input']): ReadReport => {
      try {
        return { isRead: true, content: readReport(format, bytes) }
      } catch (error) {
        if (error instanceof ReportFormatError) return { isRead: false, why: error.message }
        throw error
      }
    },
  },
  () => {},
)

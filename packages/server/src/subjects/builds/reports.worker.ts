import { readReport } from '@dystracer/core/builds/reports/read-report'
import { ReportFormatError } from '@dystracer/core/builds/reports/report'
import { serveCalls } from '#platform/threads/serve-calls'
import type { ReadReport, ReportsMethods } from './reports.protocol.js'

// A parser warns the process of what a report says in an odd way, in the report's own words: those belong in no log.
process.removeAllListeners('warning')

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

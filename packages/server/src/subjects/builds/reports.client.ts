import type { ReportFormat } from '@dystracer/core/builds/report-format'
import type { ReportContent } from '@dystracer/core/builds/reports/report'
import { Problem } from '@dystracer/core/basics/problem'
import { slot, type ServiceContext } from '#platform/context'
import type { ReportsMethods } from './reports.protocol.js'

const REPORTS = slot('reports worker', ({ threads }) =>
  threads.open<ReportsMethods>({ name: 'reports', entry: new URL('./reports.worker.js', import.meta.url), data: {} }),
)

/** What a report holds, read on a thread of its own: one of 200,000 cases keeps nobody waiting. Throws `malformed-body` with the place. */
export async function readReportAside(ctx: ServiceContext, format: ReportFormat, body: Buffer): Promise<ReportContent> {
  const bytes = new Uint8Array(body)
  const read = await ctx.use(REPORTS).call('read', { format, bytes }, { transfer: [bytes.buffer] })
  if (!read.isRead) throw new Problem('malformed-body', { detail: `The report was not read: ${read.why}. Nothing was stored.` })
  return read.content
}

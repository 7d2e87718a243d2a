import { operation } from '#people/operation'
import { z } from 'zod'

const zAudit = z.object({ against: z.string().max(60).optional() })
const audit = <const Form extends string>(form: Form, media: string, summary: string) =>
  operation({
    method: 'get',
    path: `/projects/:project/audit-report.${form}`,
    summary,
    may: 'project.read',
    about: 'project',
    query: zAudit,
    media,
    answer: z.string(),
  })

/** The report for an audit of a project's requirements, in the forms in which it goes out. */
export const auditReportOperations = {
  readAuditPage: audit(
    'html',
    'text/html',
    'How far the requirements are proved, and by what, as a page that prints; against a baseline, with what changed',
  ),
  readAuditTable: audit('csv', 'text/csv', 'The same as a table: each requirement with each item and each proof'),
  readAuditJson: audit('json', 'application/json', 'The same as JSON'),
  readAuditPdf: audit('pdf', 'application/pdf', 'The same page printed, where the server has a Chromium to print it with'),
}

import { walkXml as walk, XmlError, type XmlVisitor } from '#text/walk-xml'
import { ReportFormatError } from './report.js'

export type { Attributes, XmlVisitor } from '#text/walk-xml'

/** Walks through a report that is XML, as `text/walk-xml` does. Throws ReportFormatError with the line. */
export function walkXml(xml: string, visitor: XmlVisitor): string[] {
  try {
    return walk(xml, visitor)
  } catch (error) {
    throw error instanceof XmlError ? new ReportFormatError(error.message, { cause: error }) : error
  }
}

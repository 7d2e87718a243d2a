import { declaredXmlEncoding, decodeText } from '#text/decode-text'
import type { ReportFormat } from '../report-format.js'
import { readClover } from './clover.js'
import { readCobertura } from './cobertura.js'
import { readCtrf } from './ctrf.js'
import { readJacoco } from './jacoco.js'
import { readJunit } from './junit.js'
import { readLcov } from './lcov.js'
import { ReportFormatError, type ReportContent } from './report.js'
import { readSarif } from './sarif.js'
import { readTap } from './tap.js'

/** How each format is read: one line for each, and a file of its own. */
const READERS: Record<ReportFormat, (text: string) => ReportContent> = {
  junit: (text) => ({ kind: 'tests', ...readJunit(text) }),
  tap: (text) => ({ kind: 'tests', ...readTap(text) }),
  ctrf: (text) => ({ kind: 'tests', ...readCtrf(text) }),
  sarif: (text) => ({ kind: 'findings', ...readSarif(text) }),
  lcov: (text) => ({ kind: 'coverage', ...readLcov(text) }),
  cobertura: (text) => ({ kind: 'coverage', ...withFiles(readCobertura(text)) }),
  jacoco: (text) => ({ kind: 'coverage', ...withFiles(readJacoco(text)) }),
  clover: (text) => ({ kind: 'coverage', ...withFiles(readClover(text)) }),
}

/**
 * What a report holds, read from its bytes: the encoding is told by mark or declaration. Every reader is linear in the file's length.
 * Throws ReportFormatError with the place and the reason.
 */
export function readReport(format: ReportFormat, bytes: Uint8Array): ReportContent {
  const decoded = decodeText(bytes, declaredXmlEncoding(bytes))
  if (!decoded.ok) throw new ReportFormatError(decoded.why)
  return READERS[format](decoded.text)
}

/** A report that names no file is of another form, or of nothing: taking it would look as if it had been of use. */
function withFiles<Content extends { files: readonly unknown[] }>(content: Content): Content {
  if (content.files.length === 0) throw new ReportFormatError('no file in it')
  return content
}

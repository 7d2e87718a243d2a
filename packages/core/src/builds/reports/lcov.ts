import { CoverageGatherer } from './coverage.js'
import { ReportFormatError, type FileCoverage } from './report.js'

/** The lines of an LCOV trace file (`geninfo`: SF, DA, end_of_record). Throws ReportFormatError with the line. */
export function readLcov(text: string): { files: FileCoverage[]; notes: string[] } {
  const gathered = new CoverageGatherer()
  let file: string | null = null
  let number = 0
  let hasRecord = false
  for (const raw of text.split('\n')) {
    number++
    const line = raw.trimEnd()
    if (line.startsWith('SF:')) {
      file = line.slice(3)
      hasRecord = true
      gathered.noteFile(file)
    } else if (line.startsWith('DA:')) {
      const [at, hits] = line.slice(3).split(',')
      if (file === null) throw new ReportFormatError(`a line's count stands outside a file (line ${number})`)
      if (!/^\d+$/.test(at ?? '') || !/^-?\d+$/.test(hits ?? ''))
        throw new ReportFormatError(`“${line.slice(0, 60)}” is no count of a line (line ${number})`)
      gathered.note(file, Number(at), Number(hits))
    } else if (line === 'end_of_record') file = null
  }
  if (!hasRecord) throw new ReportFormatError('no file (SF:) in it')
  return { files: gathered.files(), notes: file === null ? [] : ['The last record is not ended: the file may have been cut.'] }
}

import { CoverageGatherer } from './coverage.js'
import { ReportFormatError, type FileCoverage } from './report.js'
import { walkXml } from './xml.js'

/** The lines of a Clover XML report; methods and statements are lines like others. Throws ReportFormatError. */
export function readClover(xml: string): { files: FileCoverage[]; notes: string[] } {
  const gathered = new CoverageGatherer()
  let file: string | null = null
  let isReport = false
  const notes = walkXml(xml, {
    open(name, attributes) {
      if (name === 'coverage') isReport = true
      else if (name === 'file') {
        file = attributes.path || attributes.name || ''
        gathered.noteFile(file)
      } else if (name === 'line' && file !== null) {
        const hits = attributes.count ?? String(Number(attributes.truecount ?? 0) + Number(attributes.falsecount ?? 0))
        gathered.note(file, Number(attributes.num), Number(hits))
      }
    },
    close(name) {
      if (name === 'file') file = null
    },
  })
  if (!isReport) throw new ReportFormatError('no <coverage> in it')
  return { files: gathered.files(), notes }
}

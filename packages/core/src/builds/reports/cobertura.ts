import { CoverageGatherer } from './coverage.js'
import { ReportFormatError, type FileCoverage } from './report.js'
import { walkXml } from './xml.js'

/**
 * The lines of a Cobertura XML report. A file's name is below one of the `<source>` folders, which are the build machine's: it is taken as
 * it stands. Throws ReportFormatError.
 */
export function readCobertura(xml: string): { files: FileCoverage[]; notes: string[] } {
  const gathered = new CoverageGatherer()
  let file: string | null = null
  let isReport = false
  const notes = walkXml(xml, {
    open(name, attributes) {
      if (name === 'coverage') isReport = true
      else if (name === 'class' && attributes.filename !== undefined) {
        file = attributes.filename
        gathered.noteFile(file)
      } else if (name === 'line' && file !== null) gathered.note(file, Number(attributes.number), Number(attributes.hits))
    },
    close(name) {
      if (name === 'class') file = null
    },
  })
  if (!isReport) throw new ReportFormatError('no <coverage> in it')
  return { files: gathered.files(), notes }
}

import { CoverageGatherer } from './coverage.js'
import { ReportFormatError, type FileCoverage } from './report.js'
import { walkXml } from './xml.js'

/**
 * The lines of a JaCoCo XML report: a file is its package and its name; a line was run if an instruction on
 * it was. Throws ReportFormatError.
 */
export function readJacoco(xml: string): { files: FileCoverage[]; notes: string[] } {
  const gathered = new CoverageGatherer()
  let folder = ''
  let file: string | null = null
  let isReport = false
  const notes = walkXml(xml, {
    open(name, attributes) {
      if (name === 'report') isReport = true
      else if (name === 'package') folder = attributes.name ?? ''
      else if (name === 'sourcefile') {
        file = [folder, attributes.name ?? ''].filter(Boolean).join('/')
        gathered.noteFile(file)
      } else if (name === 'line' && file !== null) gathered.note(file, Number(attributes.nr), Number(attributes.ci))
    },
    close(name) {
      if (name === 'sourcefile') file = null
      else if (name === 'package') folder = ''
    },
  })
  if (!isReport) throw new ReportFormatError('no <report> in it')
  return { files: gathered.files(), notes }
}

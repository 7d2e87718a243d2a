/** Which log a pane shows, and the line that is chosen in it. */
export interface LogPlace {
  repository: string
  number: string
  step: string
  attempt: number
  line: number | null
}

/** The id of a log's pane: `repository/58/the step#1:120`; without a line that is chosen it ends in `:0`. */
export function logId({ repository, number, step, attempt, line = null }: Omit<LogPlace, 'line'> & { line?: number | null }): string {
  return `${repository}/${number}/${step}#${attempt}:${line ?? 0}`
}

/** The place that an id names; what is left out is the first attempt, and no line. */
export function placeOfLog(id: string): LogPlace {
  const [, repository = '', number = '', step = '', attempt = '1', line = '0'] =
    /^([^/]*)\/([^/]*)\/(.*?)(?:#(\d{1,6}))?(?::(\d{1,9}))?$/s.exec(id) ?? []
  return { repository, number, step, attempt: Number(attempt), line: Number(line) || null }
}

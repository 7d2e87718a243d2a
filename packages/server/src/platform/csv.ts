import papaparse from 'papaparse'

/**
 * What a spreadsheet takes for a formula, or for the end of the cell before: cells that begin so get an apostrophe in front (OWASP, CSV
 * injection). Over the whole text, also where it has several lines.
 */
const DANGEROUS = /^[=+\-@\t\r\n\uff0b\uff0d\uff1d\uff20][\s\S]*$/

/** Rows as CSV (RFC 4180) with CRLF; a head line first unless it was written already. Cells that would act in a spreadsheet are defused. */
export function asCsv(fields: readonly string[], data: readonly object[], { hasHead = true }: { hasHead?: boolean } = {}): string {
  const text = papaparse.unparse(
    { fields: [...fields], data: data as object[] },
    { escapeFormulae: DANGEROUS, newline: '\r\n', header: hasHead },
  )
  return text === '' ? '' : `${text}\r\n`
}

/** A cell as it was before `asCsv` defused it. */
export function undefused(cell: string): string {
  return cell.startsWith("'") && DANGEROUS.test(cell.slice(1)) ? cell.slice(1) : cell
}

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

/** A table as read: its rows by the names of its columns, and the columns that were called like one before them. */
export interface HeadedRows {
  rows: Record<string, string>[]
  headings: string[]
  /** Columns that had to be told apart, as they are read now: the second `Note` is `Note (2)`. */
  renamed: { name: string; column: string }[]
  /** The row in which a quotation mark opens that is never closed, counting from 0; null where all close. */
  unclosedAt: number | null
}

/** Reads a table of which the first row names the columns; of two columns with one name none is lost. Linear. */
export function readHeadedRows(text: string): HeadedRows {
  const renamed: HeadedRows['renamed'] = []
  const taken = new Set<string>()
  const countOf = new Map<string, number>()
  const nameOf = (heading: string): string => {
    let name = heading
    while (name.trim() !== '' && taken.has(name)) {
      const count = (countOf.get(heading) ?? 1) + 1
      countOf.set(heading, count)
      name = `${heading} (${count})`
    }
    if (name !== heading) renamed.push({ name, column: heading })
    taken.add(name)
    return name
  }
  const parsed = papaparse.parse<Record<string, string>>(text, { header: true, skipEmptyLines: 'greedy', transformHeader: nameOf })
  const broken = parsed.errors.find((error) => error.type === 'Quotes')
  return {
    rows: parsed.data,
    headings: parsed.meta.fields ?? [],
    renamed,
    unclosedAt: broken ? (broken.row ?? 0) : null,
  }
}

/** Reads a table as it stands, the first row with the others; which sign parts its cells is told from it. Linear. */
export function readRows(text: string): string[][] {
  return papaparse.parse<string[]>(text, { skipEmptyLines: 'greedy' }).data
}

/** What stands where a row and a column meet: it holds, is broken, has to be looked at again, or is only said so far. */
export const CELL_STATES = ['holds', 'said', 'look', 'broken'] as const
/** One of them; later in the list is worse. */
export type CellState = (typeof CELL_STATES)[number]
/** What requirements may be held against. */
export const MATRIX_COLUMNS = ['item', 'test', 'release', 'component'] as const
/** One of them. */
export type MatrixColumn = (typeof MATRIX_COLUMNS)[number]

/** A requirement as a row; rows come in document order. */
export interface MatrixRow {
  key: string
  title: string
  parent: string | null
  isHeading: boolean
}
/** Something that requirements are held against. */
export interface MatrixHead {
  id: string
  title: string
}
/** Where a row and a column meet; what does not meet has no cell. */
export interface MatrixCell {
  row: string
  column: string
  state: CellState
  /** What it says, in words. */
  words: string
  /** The tie that can be taken back; null for what follows from evidence. */
  linkId: string | null
}
/** Requirements against something, with only the cells that say something. */
export interface Matrix {
  columns: MatrixHead[]
  rows: MatrixRow[]
  cells: MatrixCell[]
}

/** The worse of two states. */
export function worse(one: CellState, other: CellState): CellState {
  return CELL_STATES.indexOf(one) > CELL_STATES.indexOf(other) ? one : other
}

/**
 * One cell for each meeting: of several that meet in one place the worst counts, its words first. In the
 * order of rows and columns. O(n log n).
 */
export function mergeCells(cells: readonly MatrixCell[]): MatrixCell[] {
  const merged = new Map<string, MatrixCell>()
  for (const cell of cells) {
    const key = JSON.stringify([cell.row, cell.column])
    const known = merged.get(key)
    if (!known) merged.set(key, { ...cell })
    else {
      const isWorse = worse(known.state, cell.state) !== known.state
      const before = known.words.split('; ')
      const words = isWorse ? [cell.words, ...before] : [...before, cell.words]
      merged.set(key, { ...(isWorse ? cell : known), linkId: known.linkId ?? cell.linkId, words: [...new Set(words)].join('; ') })
    }
  }
  return [...merged.values()]
}

/**
 * The matrix with some chapters folded: what stands below one is not shown, and its cells count for the chapter, the worst of each column.
 * O(rows + cells).
 */
export function foldMatrix(matrix: Matrix, folded: ReadonlySet<string>): Matrix {
  const shownAs = new Map<string, string>()
  const rows = matrix.rows.filter(({ key, parent }) => {
    const above = parent === null ? undefined : shownAs.get(parent)
    const isHidden = above !== undefined && (above !== parent || folded.has(parent as string))
    shownAs.set(key, isHidden ? (above as string) : key)
    return !isHidden
  })
  const cells = matrix.cells.map((cell) => ({ ...cell, row: shownAs.get(cell.row) ?? cell.row }))
  const below = new Set(matrix.rows.flatMap(({ key }) => (shownAs.get(key) === key ? [] : [shownAs.get(key) as string])))
  // A chapter's cell is of several rows: nothing of it can be taken back at once.
  return { ...matrix, rows, cells: mergeCells(cells).map((cell) => (below.has(cell.row) ? { ...cell, linkId: null } : cell)) }
}

/**
 * The rows and columns whose words hold some text, with the cells between them; `gapsFirst` puts
 * rows without a cell that holds before others.
 */
export function narrowMatrix(matrix: Matrix, wanted: { rows: string; columns: string; gapsFirst: boolean; onlyFilled: boolean }): Matrix {
  const fits = (text: string, words: string) => text.toLowerCase().includes(words.trim().toLowerCase())
  const columns = matrix.columns.filter(({ id, title }) => fits(`${id} ${title}`, wanted.columns))
  const columnIds = new Set(columns.map(({ id }) => id))
  let rows = matrix.rows.filter(({ key, title }) => fits(`${key} ${title}`, wanted.rows))
  const rowKeys = new Set(rows.map(({ key }) => key))
  const cells = matrix.cells.filter(({ row, column }) => rowKeys.has(row) && columnIds.has(column))
  if (wanted.gapsFirst) {
    const held = new Set(cells.filter(({ state }) => state === 'holds').map(({ row }) => row))
    const rank = ({ key, isHeading }: MatrixRow) => (isHeading ? 2 : held.has(key) ? 1 : 0)
    rows = [...rows].sort((a, b) => rank(a) - rank(b))
  }
  const filled = new Set(cells.map(({ column }) => column))
  return { rows, cells, columns: wanted.onlyFilled ? columns.filter(({ id }) => filled.has(id)) : columns }
}

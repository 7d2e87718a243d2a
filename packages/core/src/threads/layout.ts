import { THREAD_COLUMNS, type ThreadEdge, type ThreadNode } from './thread.js'

/** A node's box in the drawing, in pixels. */
export interface LayoutBox {
  id: string
  xPx: number
  yPx: number
  widthPx: number
  heightPx: number
}
/** An edge as the points of its path, in pixels. */
export interface LayoutPath {
  from: string
  to: string
  d: string
}
/** The drawing of a thread: boxes, paths and the size of the whole. */
export interface ThreadLayout {
  boxes: LayoutBox[]
  paths: LayoutPath[]
  widthPx: number
  heightPx: number
  columnXPx: number[]
}

/** Sizes of the drawing on a page, and how many sweeps order the rows. */
export const defaultLayoutOptions = { widthPx: 900, boxHeightPx: 46, rowGapPx: 14, columnGapPx: 28, sweeps: 6 }
/** Sizes of a drawing and the effort spent on it. */
export type LayoutOptions = typeof defaultLayoutOptions

/**
 * Places a thread in its fixed columns: order within each column by barycentre sweeps (Sugiyama, Tagawa and Toda 1981), then each box as
 * near to the mean
 * of its neighbours as the boxes above allow. Edges run as right-angled lines that turn half-way in the gap before the target. O(sweeps ×
 * (nodes log nodes + edges));
 * the result depends on nothing but the input.
 */
export function layoutThread(
  nodes: readonly ThreadNode[],
  edges: readonly ThreadEdge[],
  options: Partial<LayoutOptions> = {},
): ThreadLayout {
  const { widthPx, boxHeightPx, rowGapPx, columnGapPx, sweeps } = { ...defaultLayoutOptions, ...options }
  const columns = THREAD_COLUMNS.map((column) => nodes.filter((node) => node.column === column).map((node) => node.id))
  const columnOf = new Map(nodes.map((node) => [node.id, THREAD_COLUMNS.indexOf(node.column)]))
  const neighbours = neighbourLists(nodes, edges)
  orderByBarycentre(columns, columnOf, neighbours, sweeps)
  const pitch = boxHeightPx + rowGapPx
  const yById = placeRows(columns, columnOf, neighbours, pitch)
  const boxWidth = (widthPx - columnGapPx * (THREAD_COLUMNS.length - 1)) / THREAD_COLUMNS.length
  const columnXPx = THREAD_COLUMNS.map((_, index) => Math.round(index * (boxWidth + columnGapPx)))
  const boxes = nodes.map((node) => ({
    id: node.id,
    xPx: columnXPx[columnOf.get(node.id) ?? 0] ?? 0,
    yPx: yById.get(node.id) ?? 0,
    widthPx: Math.round(boxWidth),
    heightPx: boxHeightPx,
  }))
  const boxById = new Map(boxes.map((box) => [box.id, box]))
  const paths = edges.flatMap((edge) => {
    const a = boxById.get(edge.from)
    const b = boxById.get(edge.to)
    return a && b ? [{ from: edge.from, to: edge.to, d: pathBetween(a, b, columnGapPx) }] : []
  })
  const heightPx = Math.max(0, ...boxes.map((box) => box.yPx + box.heightPx))
  return { boxes, paths, widthPx, heightPx, columnXPx }
}

function neighbourLists(nodes: readonly ThreadNode[], edges: readonly ThreadEdge[]): Map<string, string[]> {
  const lists = new Map<string, string[]>(nodes.map((node) => [node.id, []]))
  for (const edge of edges) {
    lists.get(edge.from)?.push(edge.to)
    lists.get(edge.to)?.push(edge.from)
  }
  return lists
}

function orderByBarycentre(
  columns: string[][],
  columnOf: ReadonlyMap<string, number>,
  neighbours: ReadonlyMap<string, string[]>,
  sweeps: number,
): void {
  const rank = new Map<string, number>()
  const renumber = (column: string[]) => {
    for (const [index, id] of column.entries()) rank.set(id, column.length === 1 ? 0.5 : index / (column.length - 1))
  }
  columns.forEach(renumber)
  for (let sweep = 0; sweep < sweeps; sweep++) {
    const isForward = sweep % 2 === 0
    const order = columns.map((_, index) => (isForward ? index : columns.length - 1 - index))
    for (const index of order) {
      const column = columns[index] ?? []
      const centre = new Map(
        column.map((id) => {
          const sides = (neighbours.get(id) ?? []).filter((other) =>
            isForward ? (columnOf.get(other) ?? 0) < index : (columnOf.get(other) ?? 0) > index,
          )
          const mean = sides.length > 0 ? sides.reduce((sum, other) => sum + (rank.get(other) ?? 0), 0) / sides.length : (rank.get(id) ?? 0)
          return [id, mean]
        }),
      )
      column.sort((a, b) => (centre.get(a) ?? 0) - (centre.get(b) ?? 0))
      renumber(column)
    }
  }
}

/** Rows in whole pitches from the column with most boxes outwards, so that chains run straight where they can. */
function placeRows(
  columns: readonly string[][],
  columnOf: ReadonlyMap<string, number>,
  neighbours: ReadonlyMap<string, string[]>,
  pitch: number,
): Map<string, number> {
  const y = new Map<string, number>()
  const widest = columns.reduce((best, column, index) => (column.length > (columns[best]?.length ?? 0) ? index : best), 0)
  for (const [index, id] of (columns[widest] ?? []).entries()) y.set(id, index * pitch)
  const outwards = columns
    .map((_, index) => index)
    .filter((index) => index !== widest)
    .sort((a, b) => Math.abs(a - widest) - Math.abs(b - widest) || b - a)
  for (const index of outwards) {
    let floor = 0
    for (const id of columns[index] ?? []) {
      const placed = (neighbours.get(id) ?? []).filter((other) => columnOf.get(other) !== index).flatMap((other) => y.get(other) ?? [])
      const wish = placed.length > 0 ? placed.reduce((sum, value) => sum + value, 0) / placed.length : floor
      const at = Math.max(floor, Math.round(wish))
      y.set(id, at)
      floor = at + pitch
    }
  }
  return y
}

function pathBetween(a: LayoutBox, b: LayoutBox, columnGapPx: number): string {
  const isSameColumn = a.xPx === b.xPx
  const [left, right] = a.xPx <= b.xPx ? [a, b] : [b, a]
  const y1 = left.yPx + left.heightPx / 2
  const y2 = right.yPx + right.heightPx / 2
  const x1 = left.xPx + left.widthPx
  if (isSameColumn) return `M${x1} ${y1} H${x1 + columnGapPx / 4} V${y2} H${x1}`
  const x2 = right.xPx
  const turn = x2 - columnGapPx / 2
  return y1 === y2 ? `M${x1} ${y1} H${x2}` : `M${x1} ${y1} H${turn} V${y2} H${x2}`
}

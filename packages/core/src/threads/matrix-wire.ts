import { operation } from '#people/operation'
import { z } from 'zod'
import { CELL_STATES, MATRIX_COLUMNS, type Matrix } from './matrix.js'

/** Requirements of a project against something. */
export const zMatrix = z.object({
  columns: z.array(z.object({ id: z.string(), title: z.string() })),
  rows: z.array(z.object({ key: z.string(), title: z.string(), parent: z.string().nullable(), isHeading: z.boolean() })),
  cells: z.array(
    z.object({ row: z.string(), column: z.string(), state: z.enum(CELL_STATES), words: z.string(), linkId: z.string().nullable() }),
  ),
}) satisfies z.ZodType<Matrix>

const query = z.object({ columns: z.enum(MATRIX_COLUMNS).default('item') })
const exported = <const Form extends string>(form: Form, media: string, summary: string) =>
  operation({
    method: 'get',
    path: `/projects/:project/matrix.${form}`,
    summary,
    may: 'project.read',
    about: 'project',
    query,
    media,
    answer: z.string(),
  })

/** What can be asked of the matrix. */
export const matrixOperations = {
  readMatrix: operation({
    method: 'get',
    path: '/projects/:project/matrix',
    summary: 'The requirements of a project against its items, tests, releases or components: only the cells that say something',
    may: 'project.read',
    about: 'project',
    query,
    answer: zMatrix,
  }),
  exportMatrix: exported('csv', 'text/csv', 'The matrix as CSV, a row for each requirement'),
  exportMatrixAsHtml: exported('html', 'text/html', 'The matrix as a page that prints'),
}

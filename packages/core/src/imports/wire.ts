import { operation } from '#people/operation'
import { VALUE_FIELDS, zImportMapping, zImportValues, zRenewedField } from './import-fields.js'
import { z } from 'zod'

/** The states of an import, in their order; the last three end it. */
export const IMPORT_PHASES = ['read', 'trying', 'tried', 'running', 'done', 'cancelled', 'failed'] as const
/** What is wrong with one cell; `row` counts as a spreadsheet does, the heading being 1; of JSON Lines it is the line. */
export const zImportProblem = z.object({ row: z.number().int(), column: z.string().nullable(), code: z.string(), value: z.string() })
/** An import as its page shows it: phase, progress, mapping and problems. */
export const zImport = z.object({
  importId: z.string(),
  name: z.string(),
  format: z.enum(['csv', 'jsonl']),
  /** How the file was read, as encodings are called: `utf-8`, `windows-1252` …. */
  encoding: z.string(),
  phase: z.enum(IMPORT_PHASES),
  columns: z.array(z.string()),
  /** The first rows as they stand in the file. */
  sample: z.array(z.record(z.string(), z.string())),
  mapping: zImportMapping,
  /** What words of the file become, as said, and as the last trial found them. */
  values: zImportValues,
  seen: z.array(
    z.object({
      field: z.enum(VALUE_FIELDS),
      text: z.string(),
      count: z.number().int(),
      becomes: z.string().nullable(),
      isUnknown: z.boolean(),
    }),
  ),
  rows: z.number().int(),
  /** Items that would be or were logged; those that an earlier import had logged; rows left out. */
  fresh: z.number().int(),
  known: z.number().int(),
  leftOut: z.number().int(),
  linked: z.number().int(),
  /** Where rows that were imported before differ from their items: the first of them, and how many by field. */
  changes: z.array(z.object({ row: z.number().int(), key: z.string(), field: zRenewedField, ours: z.string(), theirs: z.string() })),
  changeCounts: z.record(z.string(), z.number().int()),
  /** Files that were, or would be, fetched from their addresses. */
  attached: z.number().int(),
  /** Items that took values of the file. */
  renewed: z.number().int(),
  /** How far the present phase is, of all rows; null before the rows were counted. */
  doneRows: z.number().int(),
  totalRows: z.number().int().nullable(),
  problems: z.array(zImportProblem),
  problemCount: z.number().int(),
  why: z.string().nullable(),
})
export type Import = z.infer<typeof zImport>
/** Runs an import by this mapping; a trial writes nothing. */
export const zRunImport = z.strictObject({
  mapping: zImportMapping,
  values: zImportValues.default({}),
  /** Fields in which the file is right where it differs from an item that was imported before; in the others the item stays as it is. */
  takes: z.array(zRenewedField).default([]),
  isTrial: z.boolean().default(true),
})

/** What can be asked of imports. */
export const importsOperations = {
  beginImport: operation({
    method: 'post',
    path: '/projects/:project/imports',
    summary: 'Read a file of items (CSV or JSON Lines, as the body); ?name= is what it is called',
    may: 'imports.run',
    about: 'project',
    query: z.object({ name: z.string().max(500).default('items') }),
    bodyMedia: 'application/octet-stream',
    status: 201,
    answer: zImport,
  }),
  readImport: operation({
    method: 'get',
    path: '/imports/:importId',
    summary: 'How far an import is',
    may: 'imports.run',
    about: 'import',
    isOfNow: true,
    answer: zImport,
  }),
  runImport: operation({
    method: 'post',
    path: '/imports/:importId/run',
    summary: 'Try an import, or run it',
    may: 'imports.run',
    about: 'import',
    body: zRunImport,
    answer: zImport,
  }),
  cancelImport: operation({
    method: 'delete',
    path: '/imports/:importId',
    summary: 'Stop an import',
    may: 'imports.run',
    about: 'import',
    answer: zImport,
  }),
}

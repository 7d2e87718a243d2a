import { zipSync } from 'fflate'
import type { Who } from '@dystracer/core/people/who'
import { requirementsAsHtml, requirementsAsMarkdown, type DocumentRequirement } from '@dystracer/core/requirements/as-document'
import type { Attributes } from '@dystracer/core/requirements/attributes'
import { inDocumentOrder } from '@dystracer/core/requirements/document-order'
import type { KeptDocument, Origin } from '@dystracer/core/requirements/reqif/document'
import type { WrittenRequirement } from '@dystracer/core/requirements/reqif/write-reqif'
import { asCsv } from '#platform/csv'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { hiddenPrefixes } from '#subjects/records/index'
import { attributesOf } from './attributes.views.js'
import { toText, type RequirementRow } from './requirements.views.js'
import { writeReqifAside } from './exchange.client.js'
import {
  GET_PROJECT_NAME,
  LIST_KEPT_DOCUMENT,
  LIST_PICTURE,
  LIST_RELATION_OF_PROJECT,
  LIST_REQUIREMENT_WITH_ORIGIN,
} from './exchange.queries.js'

type Row = RequirementRow & { origin: string | null; changed_at_ms: number | null }
type Exported = DocumentRequirement & WrittenRequirement

/** The requirements of a project in document order, for somebody who may read it; of another project there are none. */
function exported(ctx: ServiceContext, who: Who, project: string): Exported[] {
  const hidden = new Set(JSON.parse(hiddenPrefixes(ctx.db, who)) as string[])
  const rows = sql(ctx.db, LIST_REQUIREMENT_WITH_ORIGIN)
    .all<Row>({ project })
    .filter(({ key }) => !hidden.has(key.slice(0, key.lastIndexOf('-'))))
  return inDocumentOrder(rows).map((row) => ({
    ...toText(row),
    attributes: JSON.parse(row.attributes) as Attributes,
    changedAtMs: row.changed_at_ms ?? 0,
    origin: row.origin === null ? null : (JSON.parse(row.origin) as Origin),
  }))
}

/** As CSV; the import takes them back as they are. Attributes that something says are columns. */
export function requirementsAsCsv(ctx: ServiceContext, who: Who, project: string): string {
  const rows = exported(ctx, who, project)
  const names = attributesOf(ctx, project)
    .map(({ name }) => name)
    .filter((name) => rows.some(({ attributes }) => attributes[name] !== undefined))
  return asCsv(
    ['key', 'title', 'text', 'parent', 'type', ...names],
    rows.map(({ key, title, text, parent, isHeading, attributes }) => ({
      key,
      title,
      text,
      parent: parent ?? '',
      type: isHeading ? 'heading' : 'requirement',
      ...Object.fromEntries(names.map((name) => [name, [attributes[name] ?? ''].flat().join('; ')])),
    })),
  )
}

interface Relation {
  relationId: string
  name: string
  from: string
  to: string
}
function relationsOf(ctx: ServiceContext, project: string): Relation[] {
  return sql(ctx.db, LIST_RELATION_OF_PROJECT).all<Relation>({ project })
}

/** As JSON Lines, each requirement with its attributes and relations. */
export function requirementsAsJsonl(ctx: ServiceContext, who: Who, project: string): string {
  const relations = relationsOf(ctx, project)
  return exported(ctx, who, project)
    .map(({ origin: _, changedAtMs, ...row }) => {
      const own = relations.filter(({ from }) => from === row.key).map(({ name, to }) => ({ name, to }))
      return `${JSON.stringify({ ...row, changedAtMs, relations: own })}\n`
    })
    .join('')
}

/** As an exchange file (ReqIF). What came from such a file leaves as it came. */
export function requirementsAsReqif(ctx: ServiceContext, who: Who, project: string): Promise<string> {
  return asReqif(ctx, project, exported(ctx, who, project))
}

/**
 * What else belongs to the project goes along only with its requirements: of a project that is not
 * theirs to read the asker gets nothing.
 */
function asReqif(ctx: ServiceContext, project: string, requirements: readonly Exported[]): Promise<string> {
  const isEmpty = requirements.length === 0
  const documents = isEmpty ? [] : sql(ctx.db, LIST_KEPT_DOCUMENT).all<{ kept: string }>({ project })
  return writeReqifAside(ctx, {
    title: titleOf(ctx, project, requirements),
    project,
    requirements,
    relations: isEmpty ? [] : relationsOf(ctx, project).map(({ relationId: id, ...one }) => ({ id, ...one })),
    definitions: isEmpty ? [] : attributesOf(ctx, project),
    documents: documents.map(({ kept }) => JSON.parse(kept) as KeptDocument),
    nowMs: ctx.nowMs(),
  })
}

/** The exchange file and its pictures in one archive. */
export async function requirementsAsReqifz(ctx: ServiceContext, who: Who, project: string): Promise<Buffer> {
  const requirements = exported(ctx, who, project)
  const xml = await asReqif(ctx, project, requirements)
  const pictures = requirements.length === 0 ? [] : sql(ctx.db, LIST_PICTURE).all<{ path: string; content: Buffer }>({ project })
  const files = [[`${project}.reqif`, Buffer.from(xml)] as const, ...pictures.map(({ path, content }) => [path, content] as const)]
  return Buffer.from(zipSync(Object.fromEntries(files.map(([path, content]) => [path, new Uint8Array(content)])), { mtime: ctx.nowMs() }))
}

export function requirementsAsMarkdownText(ctx: ServiceContext, who: Who, project: string): string {
  const rows = exported(ctx, who, project)
  return requirementsAsMarkdown(titleOf(ctx, project, rows), rows)
}

export function requirementsAsPage(ctx: ServiceContext, who: Who, project: string): string {
  const rows = exported(ctx, who, project)
  return requirementsAsHtml(titleOf(ctx, project, rows), rows)
}

/** What the document is called; who may not read the project is not told its name. */
function titleOf(ctx: ServiceContext, project: string, rows: readonly unknown[]): string {
  return rows.length === 0
    ? 'Requirements'
    : `Requirements of ${sql(ctx.db, GET_PROJECT_NAME).get<{ name: string }>({ project })?.name ?? project}`
}

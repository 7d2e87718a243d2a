import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import { isSameValue, type AttributeDefinition, type Attributes } from '@dystracer/core/requirements/attributes'
import type { RequirementFormat, RequirementImport } from '@dystracer/core/requirements/exchange-wire'
import { planRequirements, type CarriedPlan, type ImportProblem, type StandingRequirement } from '@dystracer/core/requirements/import-plan'
import { isSameMarkdown } from '@dystracer/core/requirements/rich-text'
import type { RequirementColumns } from '@dystracer/core/requirements/read-table'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { RESERVED_PREFIX } from '#subjects/people/index'
import { attributesOf, ownAttributes, withDefinitions } from './attributes.views.js'
import { readFileAside } from './exchange.client.js'
import type { ReadDraft, ReadFile } from './exchange.protocol.js'
import { GET_ANY_PREFIX, LIST_RELATION_OF_PROJECT, LIST_REQUIREMENT_PREFIX, LIST_REQUIREMENT_WITH_ORIGIN } from './exchange.queries.js'
import { cleanPath } from './pictures.js'
import { requirePrefix } from './requirements.commands.js'
import { GET_LAST_OF_REQUIREMENT, GET_REQUIREMENT_BY_KEY, LAST_NUMBER_OF_REQUIREMENT_BY_PREFIX } from './requirements.queries.js'

interface StandingRow {
  key: string
  title: string
  text: string
  parent: string | null
  is_heading: number
  attributes: string
  document: string | null
  object: string | null
  origin: string | null
}
interface Relation {
  relationId: string
  name: string
  from: string
  to: string
}
/** What an import is given. */
export interface ImportInput {
  project: string
  format: RequirementFormat
  prefix?: string | undefined
  isTrial: boolean
  columns: Partial<RequirementColumns>
  body: Buffer
}

/**
 * What a file of requirements would do, and, unless it is a trial, does: all of what is planned in one
 * write, or nothing. What has a problem is told by its line and left out; requirements that are not in the
 * file stay. Throws `malformed-body` for a file that cannot be read as a whole, `invalid-input` for a prefix that is another's.
 */
export async function importRequirements(ctx: ServiceContext, who: Who, input: ImportInput): Promise<RequirementImport> {
  const { project, format, columns, body } = input
  if (input.prefix !== undefined) requirePrefix(ctx, { prefix: input.prefix, project })
  const file = await readFileAside(ctx, { format, columns, bytes: body, known: attributesOf(ctx, project) })
  const planned = planOf(ctx, input, file)
  const { carried, prefix, relations } = planned
  const { plan } = carried
  const doesSomething =
    plan.new.length + plan.changed.length + plan.moved.length + file.definitions.length + file.documents.length + relations.length > 0
  if (!input.isTrial && doesSomething) ctx.journal.write((writer) => new Carrier(ctx, writer, who, { project, file, ...planned }).all())
  return {
    ...plan,
    prefix,
    columns: file.columns,
    headings: file.headings,
    problems: [...file.problems, ...plan.problems, ...planned.problems].sort((a, b) => a.line - b.line),
    attributes: file.definitions,
    relations: relations.map(({ name, from, to }) => ({ name, from, to })),
    pictures: file.pictures.map(({ path }) => path),
  }
}

interface Planned {
  carried: CarriedPlan
  prefix: string
  relations: Relation[]
  /** What is wrong with relations. */
  problems: ImportProblem[]
  standing: StandingRow[]
}

function planOf(ctx: ServiceContext, { project, prefix: chosen }: ImportInput, file: ReadFile): Planned {
  const rows = sql(ctx.db, LIST_REQUIREMENT_WITH_ORIGIN).all<StandingRow>({ project })
  const owners = new Map(
    sql(ctx.db, LIST_REQUIREMENT_PREFIX)
      .all<{ prefix: string; project: string; kind: string }>({ project })
      .map((row) => [row.prefix, row]),
  )
  const standing = rows.map((row) => toStanding(row))
  const prefix = chosen ?? defaultPrefix(ctx, project, rows)
  const documents = new Set(file.documents.map(({ id }) => id))
  const documentOf = new Map(rows.map((row) => [row.key, row.document]))
  const isOwnFile = file.drafts.some(({ id }) => id.startsWith('dystracer-'))
  const carried = planRequirements({
    drafts: file.drafts,
    standing: file.documents.length > 0 ? standing.map((one) => ({ ...one, object: one.object ?? `dystracer-${one.key}` })) : standing,
    definitions: withDefinitions(attributesOf(ctx, project), file.definitions),
    prefix,
    nextNumberOf: (of) =>
      (sql(ctx.db, LAST_NUMBER_OF_REQUIREMENT_BY_PREFIX).get<{ number: number | null }>({ prefix: of })?.number ?? 0) + 1,
    ownerOf: (of) => {
      if (of === RESERVED_PREFIX) return 'other'
      const owner = owners.get(of)
      // A prefix of items, or of a project that is not looked at here, is somebody else's.
      if (owner) return owner.kind === 'requirement' && owner.project === project ? 'own' : 'other'
      return isTaken(ctx, of) ? 'other' : 'free'
    },
    isPrefixChosen: chosen !== undefined,
    hasOrder: file.documents.length > 0,
    // What went out as an exchange file comes back as Markdown that may be written otherwise.
    ...(file.documents.length > 0 && { isSameText: isSameMarkdown }),
    couldName: (one, prefixes) => {
      const document = documentOf.get(one.key) ?? null
      if (file.documents.length === 0 || (document === null && isOwnFile)) return prefixes.has(one.key.slice(0, one.key.lastIndexOf('-')))
      return document !== null && documents.has(document)
    },
    columnOf: (field) => file.columns?.[field] ?? null,
  })
  return { carried, prefix, standing: rows, ...newRelations(ctx, { project, standing: rows }, file, carried) }
}

function isTaken(ctx: ServiceContext, prefix: string): boolean {
  return sql(ctx.db, GET_ANY_PREFIX).get({ prefix }) !== undefined
}

function toStanding(row: StandingRow): StandingRequirement {
  const { key, title, text, parent, object } = row
  return { key, title, text, parent, isHeading: row.is_heading === 1, attributes: JSON.parse(row.attributes) as Attributes, object }
}

/** The prefix that most requirements of the project have; one made of the project's own where there is none yet. */
function defaultPrefix(ctx: ServiceContext, project: string, rows: readonly { key: string }[]): string {
  const counts = new Map<string, number>()
  for (const { key } of rows) {
    const prefix = key.slice(0, key.lastIndexOf('-'))
    counts.set(prefix, (counts.get(prefix) ?? 0) + 1)
  }
  const most = [...counts].toSorted((a, b) => b[1] - a[1])[0]?.[0]
  if (most !== undefined) return most
  const own = `${project.slice(0, 9)}R`
  requirePrefix(ctx, { prefix: own, project })
  return own
}

/** Relations of the file that do not stand yet, by the keys that their ends get; those whose end is nowhere are told and left out. */
function newRelations(
  ctx: ServiceContext,
  { project, standing }: { project: string; standing: readonly StandingRow[] },
  file: ReadFile,
  { keyById }: CarriedPlan,
): { relations: Relation[]; problems: ImportProblem[] } {
  const stand = sql(ctx.db, LIST_RELATION_OF_PROJECT).all<Relation>({ project })
  const ids = new Set(stand.map(({ relationId }) => relationId))
  const said = new Set(stand.map(({ name, from, to }) => JSON.stringify([name, from, to])))
  const ofObjects = file.relations.map(({ id, name, from, to }) => ({
    relationId: id,
    name: name || 'related',
    from: keyById.get(from),
    to: keyById.get(to),
  }))
  const keys = new Set([...keyById.values(), ...standing.map(({ key }) => key)])
  const problems: ImportProblem[] = []
  const ofLines = file.drafts.flatMap((draft) =>
    (draft.relations ?? []).flatMap(({ name, to: said }) => {
      const to = keyById.get(said) ?? said.toUpperCase()
      if (!keys.has(to))
        problems.push({ line: draft.line, column: 'relations', words: `There is no requirement ${said} for it to be tied to` })
      return keys.has(to) ? [{ relationId: ctx.newId(), name, from: keyById.get(draft.id), to }] : []
    }),
  )
  const relations = [...ofObjects, ...ofLines].flatMap(({ from, to, ...one }) => {
    if (from === undefined || to === undefined || ids.has(one.relationId)) return []
    const key = JSON.stringify([one.name, from, to])
    if (said.has(key)) return []
    said.add(key)
    return [{ ...one, from, to }]
  })
  return { relations, problems }
}

/** Carries a plan out, event by event, in one write. */
class Carrier {
  private position: number
  private readonly drafts: Map<string, ReadDraft>
  private readonly standing: Map<string, StandingRow>

  constructor(
    private readonly ctx: ServiceContext,
    private readonly writer: JournalWriter,
    private readonly who: Who,
    private readonly input: { project: string; file: ReadFile } & Planned,
  ) {
    this.position = sql(ctx.db, GET_LAST_OF_REQUIREMENT).get<{ position: number | null }>({})?.position ?? 0
    const { keyById } = input.carried
    this.drafts = new Map(input.file.drafts.flatMap((draft) => (keyById.has(draft.id) ? [[keyById.get(draft.id) as string, draft]] : [])))
    this.standing = new Map(input.standing.map((row) => [row.key, row]))
  }

  all(): void {
    const { project, file, carried, relations } = this.input
    this.prefixes()
    if (file.definitions.length > 0) this.define(file.definitions)
    for (const document of file.documents) this.append('requirement-document-kept', `project:${project}`, { project, document })
    for (const picture of file.pictures) {
      const path = cleanPath(picture.path)
      if (path === null) continue
      const { mediaType, bytes } = picture
      this.append('requirement-picture-kept', `project:${project}`, {
        project,
        path,
        mediaType,
        content: Buffer.from(bytes).toString('base64'),
      })
    }
    for (const one of carried.plan.new) {
      const { key, title, text, parent, isHeading } = one
      const body = { key, title, text, parent, isHeading, revision: 1, position: ++this.position }
      this.append('requirement-written', `requirement:${key}`, body)
    }
    this.changes()
    this.descriptions()
    for (const { key, from, to } of carried.plan.moved)
      if (from !== to) this.append('requirement-placed', `requirement:${key}`, { key, parent: to, order: [key] })
    for (const { parent, order } of carried.orders)
      this.append('requirement-placed', `requirement:${order[0]}`, { key: order[0] as string, parent, order })
    for (const relation of relations)
      this.append('requirements-related', `requirement:${relation.from}`, { project, words: '', ...relation }, `requirement:${relation.to}`)
  }

  private append<Kind extends Parameters<JournalWriter['append']>[0]['kind']>(
    kind: Kind,
    subject: string,
    body: object,
    ...further: string[]
  ): void {
    const entry = { kind, actor: this.who.actor, subjects: [subject, ...further], cause: 'import', body }
    this.writer.append(entry as Parameters<JournalWriter['append']>[0])
  }

  private prefixes(): void {
    const { project, prefix, carried } = this.input
    const isUsed = carried.plan.new.some(({ key }) => key.startsWith(`${prefix}-`))
    for (const one of new Set([...carried.prefixes, ...(isUsed ? [prefix] : [])]))
      if (!isTaken(this.ctx, one)) this.append('prefix-taken', `project:${project}`, { project, prefix: one, kind: 'requirement' })
  }

  private define(definitions: readonly AttributeDefinition[]): void {
    const { project } = this.input
    const attributes = withDefinitions(ownAttributes(this.ctx, project), definitions)
    this.append('requirement-attributes-defined', `project:${project}`, { project, attributes })
  }

  private changes(): void {
    for (const { key, title, text, isHeading, what } of this.input.carried.plan.changed) {
      if (!what.some((field) => ['title', 'text', 'heading'].includes(field))) continue
      const now = sql(this.ctx.db, GET_REQUIREMENT_BY_KEY).get<{ revision: number; position: number; parent: string | null }>({ key })
      if (!now) continue
      const isMinor = !what.includes('title') && !what.includes('text')
      const body = {
        key,
        title,
        text,
        parent: now.parent,
        isHeading,
        revision: now.revision + 1,
        position: now.position,
        ...(isMinor && { isMinor }),
      }
      this.append('requirement-written', `requirement:${key}`, body)
    }
  }

  /** Attributes that differ, and where each came from, as far as that is not known already. */
  private descriptions(): void {
    const { plan } = this.input.carried
    const planned = new Map([...plan.new, ...plan.changed].map((one) => [one.key, { what: null as string[] | null, ...one }]))
    for (const [key, draft] of this.drafts) {
      const stood = this.standing.get(key)
      const now = stood ? (JSON.parse(stood.attributes) as Attributes) : {}
      const attributes = Object.fromEntries(
        Object.entries(planned.get(key)?.attributes ?? {}).filter(
          ([name, value]) => !isSameValue(now[name], value) && (planned.get(key)?.what?.includes(name) ?? true),
        ),
      )
      const { origin } = draft
      // What was begun here and only went out and came back has no other origin.
      const isOwn = origin !== null && origin.object === `dystracer-${key}`
      const isKnown = origin === null || isOwn || stood?.origin === JSON.stringify(origin)
      if (Object.keys(attributes).length === 0 && isKnown) continue
      this.append('requirement-described', `requirement:${key}`, { key, attributes, ...(!isKnown && { origin }) })
    }
  }
}

/** Refuses a path for a picture that leaves nothing. */
export function requirePath(path: string): string {
  const clean = cleanPath(path)
  if (clean === null) throw new Problem('invalid-input', { fields: { path: 'The picture needs a name' } })
  return clean
}

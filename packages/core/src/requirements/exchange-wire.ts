import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { zProjectPrefix } from '#people/wire'
import { z } from 'zod'
import { zAttributeDefinition, zAttributes } from './attributes.js'
import type { RequirementPlan } from './import-plan.js'
import { zRequirementDetail } from './wire.js'

/** How large a file of requirements may be, and what is in it once it is unfolded. */
export const REQUIREMENT_FILE_MAX_BYTES = 32 << 20
/** How large one picture of a requirement may be. */
export const REQUIREMENT_PICTURE_MAX_BYTES = 2 << 20
/** What a file of requirements may be. */
export const REQUIREMENT_FORMATS = ['csv', 'reqif', 'reqifz', 'jsonl'] as const
/** One of those forms. */
export type RequirementFormat = (typeof REQUIREMENT_FORMATS)[number]

const zPlanned = z.object({
  key: z.string(),
  title: z.string(),
  text: z.string(),
  parent: z.string().nullable(),
  line: z.number().int(),
  isHeading: z.boolean(),
  attributes: zAttributes,
})
const zColumn = z.string().nullable()
/** What an import of requirements would do, or did. */
export const zRequirementPlan = z.object({
  /** Of a table: which column says what; null for another form. */
  columns: z.object({ key: zColumn, title: zColumn, text: zColumn, parent: zColumn, heading: zColumn }).nullable(),
  /** Of a table: the names of all its columns. */
  headings: z.array(z.string()),
  /** Of the keys of what is new and has none of its own. */
  prefix: z.string(),
  new: z.array(zPlanned),
  /** With what differs: title, text, heading, or names of attributes. */
  changed: z.array(zPlanned.extend({ what: z.array(z.string()) })),
  moved: z.array(z.object({ key: z.string(), from: z.string().nullable(), to: z.string().nullable() })),
  gone: z.array(z.object({ key: z.string(), title: z.string(), text: z.string(), parent: z.string().nullable() })),
  same: z.number().int(),
  problems: z.array(z.object({ line: z.number().int(), column: z.string().nullable(), words: z.string() })),
  /** Attributes that the project does not have yet, or that get further choices. */
  attributes: z.array(zAttributeDefinition),
  /** Relations between requirements that are new. */
  relations: z.array(z.object({ name: z.string(), from: z.string(), to: z.string() })),
  /** Pictures that come along. */
  pictures: z.array(z.string()),
}) satisfies z.ZodType<RequirementPlan>
export type RequirementImport = z.infer<typeof zRequirementPlan>

const zColumnName = z.string().max(200).optional()
/** How a file is to be understood. */
export const zImportQuery = z.object({
  format: z.enum(REQUIREMENT_FORMATS, `A file is one of ${REQUIREMENT_FORMATS.join(', ')}`).default('csv'),
  /** Of the keys of what is new. Left out, the project's own; keys of the file whose prefix nobody has are kept then. */
  prefix: zProjectPrefix.optional(),
  /** Whether it is only said what would be done. */
  trial: z.stringbool().default(false),
  /** Of a table: which column is which, where their names do not say it; empty for none. */
  keyColumn: zColumnName,
  titleColumn: zColumnName,
  textColumn: zColumnName,
  parentColumn: zColumnName,
  headingColumn: zColumnName,
})

/** A requirement is joined to another by a name such as refines. */
export const zRelateRequirement = z.strictObject({
  name: z.string().trim().min(1).max(100),
  to: z.string().trim().toUpperCase().max(20),
  /** By what reasoning. */
  words: z.string().trim().max(2000).default(''),
})

const exported = <const Form extends string>(form: Form, media: string, summary: string) =>
  operation({
    method: 'get',
    path: `/requirements.${form}`,
    summary,
    may: 'member-of-any',
    about: 'nothing',
    query: z.object({ project: z.string().max(20) }),
    media,
    answer: z.string(),
  })

/** What comes in, goes out, and is said of requirements beside their text. */
export const exchangeOperations = {
  importRequirements: operation({
    method: 'post',
    path: '/projects/:project/requirement-imports',
    summary:
      'Bring requirements in from a file: what is new, changed, moved, gone, and every problem by its line; with ' +
      'trial=true nothing is done',
    may: 'requirements.write',
    about: 'project',
    query: zImportQuery,
    bodyMedia: 'application/octet-stream',
    answer: zRequirementPlan,
  }),
  exportRequirements: exported('csv', 'text/csv', 'The requirements of a project as CSV, in document order; the import takes them back'),
  exportRequirementsAsJsonl: exported(
    'jsonl',
    'application/jsonl',
    'The requirements of a project, a line of JSON each, in document order',
  ),
  exportRequirementsAsReqif: exported(
    'reqif',
    'application/xml',
    'The requirements of a project in the Requirements Interchange Format 1.2',
  ),
  exportRequirementsAsReqifz: exported('reqifz', 'application/zip', 'The same with its pictures, as one archive'),
  exportRequirementsAsMarkdown: exported('md', 'text/markdown', 'The requirements of a project as a Markdown document'),
  exportRequirementsAsHtml: exported(
    'html',
    'text/html',
    'The requirements of a project as a page that prints well and opens in word processors',
  ),
  listRequirementAttributes: operation({
    method: 'get',
    path: '/projects/:project/requirement-attributes',
    summary: 'What requirements of a project say beside their text: the common attributes and its own',
    may: 'project.read',
    about: 'project',
    answer: z.object({ rows: z.array(zAttributeDefinition.extend({ isOwn: z.boolean() })) }),
  }),
  defineRequirementAttributes: operation({
    method: 'put',
    path: '/projects/:project/requirement-attributes',
    summary: 'Say which attributes of its own a project has; values of those that are left out stay, and are not shown',
    may: 'requirements.write',
    about: 'project',
    body: z.strictObject({ attributes: z.array(zAttributeDefinition).max(200) }),
    answer: z.object({ rows: z.array(zAttributeDefinition.extend({ isOwn: z.boolean() })) }),
  }),
  describeRequirement: operation({
    method: 'patch',
    path: '/requirements/:key/attributes',
    summary: 'Set attributes of a requirement; an empty value takes one away, what is left out stays',
    may: 'requirements.write',
    about: 'requirement',
    body: z.strictObject({ attributes: zAttributes }),
    answer: zRequirementDetail,
  }),
  relateRequirement: operation({
    method: 'post',
    path: '/requirements/:key/relations',
    summary: 'Join a requirement to another one: it refines it, or whatever the relation is called',
    may: 'requirements.write',
    about: 'requirement',
    body: zRelateRequirement,
    answer: zRequirementDetail,
    status: 201,
  }),
  unrelateRequirement: operation({
    method: 'delete',
    path: '/requirements/:key/relations/:relationId',
    summary: 'Take a relation back',
    may: 'requirements.write',
    about: 'requirement',
    answer: zRequirementDetail,
  }),
  addRequirementPicture: operation({
    method: 'post',
    path: '/projects/:project/requirement-pictures',
    summary: 'Keep a picture for the texts of requirements, where it is shown by its path',
    may: 'requirements.write',
    about: 'project',
    query: z.object({ path: z.string().min(1).max(200) }),
    bodyMedia: 'application/octet-stream',
    answer: z.object({ path: z.string(), mediaType: z.string(), atMs: zAtMs }),
    status: 201,
  }),
  readRequirementPicture: operation({
    method: 'get',
    path: '/projects/:project/requirement-pictures/*path',
    summary: 'A picture of the texts of requirements',
    may: 'project.read',
    about: 'project',
    media: 'application/octet-stream',
    answer: z.string(),
  }),
}

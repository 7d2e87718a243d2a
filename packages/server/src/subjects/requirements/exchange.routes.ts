import type { Context } from 'koa'
import { exchangeOperations, REQUIREMENT_FILE_MAX_BYTES, REQUIREMENT_PICTURE_MAX_BYTES } from '@dystracer/core/requirements/exchange-wire'
import type { RequirementColumns } from '@dystracer/core/requirements/read-table'
import { writingOperations } from '@dystracer/core/requirements/writing-wire'
import type { Api } from '#platform/http/api'
import { PICTURE_HEADERS } from '#platform/files/picture-type'
import { readBody } from '#platform/http/read-body'
import { listAttributes } from './attributes.views.js'
import {
  addPicture,
  defineAttributes,
  describeRequirement,
  readPicture,
  relateRequirement,
  unrelateRequirement,
} from './describing.commands.js'
import {
  requirementsAsCsv,
  requirementsAsJsonl,
  requirementsAsMarkdownText,
  requirementsAsPage,
  requirementsAsReqif,
  requirementsAsReqifz,
} from './exports.views.js'
import { importRequirements } from './imports.commands.js'
import { readRequirement } from './requirements.views.js'
import { acceptWriting, listAcceptedWriting } from './writing.commands.js'

export function addExchangeRoutes(api: Api): void {
  api.handle(exchangeOperations.importRequirements, async ({ ctx, who, params, query, koa }) =>
    importRequirements(ctx, who, {
      project: params.project,
      format: query.format,
      prefix: query.prefix,
      isTrial: query.trial,
      columns: columnsOf(query),
      body: await readBody(koa.req, REQUIREMENT_FILE_MAX_BYTES),
    }),
  )
  api.handle(exchangeOperations.exportRequirements, ({ ctx, who, query, koa }) =>
    send(koa, { type: 'text/csv; charset=utf-8', name: 'requirements.csv', body: requirementsAsCsv(ctx, who, query.project) }),
  )
  api.handle(exchangeOperations.exportRequirementsAsJsonl, ({ ctx, who, query, koa }) =>
    send(koa, { type: 'application/jsonl; charset=utf-8', name: 'requirements.jsonl', body: requirementsAsJsonl(ctx, who, query.project) }),
  )
  api.handle(exchangeOperations.exportRequirementsAsReqif, async ({ ctx, who, query, koa }) =>
    send(koa, {
      type: 'application/xml; charset=utf-8',
      name: 'requirements.reqif',
      body: await requirementsAsReqif(ctx, who, query.project),
    }),
  )
  api.handle(exchangeOperations.exportRequirementsAsReqifz, async ({ ctx, who, query, koa }) =>
    send(koa, { type: 'application/zip', name: 'requirements.reqifz', body: await requirementsAsReqifz(ctx, who, query.project) }),
  )
  api.handle(exchangeOperations.exportRequirementsAsMarkdown, ({ ctx, who, query, koa }) =>
    send(koa, { type: 'text/markdown; charset=utf-8', name: 'requirements.md', body: requirementsAsMarkdownText(ctx, who, query.project) }),
  )
  api.handle(exchangeOperations.exportRequirementsAsHtml, ({ ctx, who, query, koa }) =>
    send(koa, { type: 'text/html; charset=utf-8', name: 'requirements.html', body: requirementsAsPage(ctx, who, query.project) }),
  )
  api.handle(exchangeOperations.listRequirementAttributes, ({ ctx, params }) => listAttributes(ctx, params.project))
  api.handle(exchangeOperations.defineRequirementAttributes, ({ ctx, who, params, body }) => {
    defineAttributes(ctx, who, params.project, body.attributes)
    return listAttributes(ctx, params.project)
  })
  api.handle(writingOperations.listAcceptedWriting, ({ ctx, params }) => listAcceptedWriting(ctx, params.project))
  api.handle(writingOperations.acceptWriting, ({ ctx, who, params, body }) => {
    acceptWriting(ctx, who, params.project, body)
    return listAcceptedWriting(ctx, params.project)
  })
  api.handle(exchangeOperations.describeRequirement, ({ ctx, who, params, body }) => {
    const key = params.key.toUpperCase()
    describeRequirement(ctx, who, key, body.attributes)
    return readRequirement(ctx, who, key)
  })
  api.handle(exchangeOperations.relateRequirement, ({ ctx, who, params, body }) => {
    const key = params.key.toUpperCase()
    relateRequirement(ctx, who, key, body)
    return readRequirement(ctx, who, key)
  })
  api.handle(exchangeOperations.unrelateRequirement, ({ ctx, who, params }) => {
    const key = params.key.toUpperCase()
    unrelateRequirement(ctx, who, key, params.relationId)
    return readRequirement(ctx, who, key)
  })
  api.handle(exchangeOperations.addRequirementPicture, async ({ ctx, who, params, query, koa }) =>
    addPicture(ctx, who, params.project, { path: query.path, body: await readBody(koa.req, REQUIREMENT_PICTURE_MAX_BYTES) }),
  )
  api.handle(exchangeOperations.readRequirementPicture, ({ ctx, params, koa }) => {
    const { mediaType, content } = readPicture(ctx, params.project, params.path)
    koa.set({ 'content-type': mediaType, ...PICTURE_HEADERS })
    koa.body = content
  })
}

/** The columns that were named; an empty name says that there is none. */
function columnsOf(query: Partial<Record<`${keyof RequirementColumns}Column`, string | undefined>>): Partial<RequirementColumns> {
  const names = ['key', 'title', 'text', 'parent', 'heading'] as const
  return Object.fromEntries(names.flatMap((name) => (query[`${name}Column`] === undefined ? [] : [[name, query[`${name}Column`] || null]])))
}

function send(koa: Context, { type, name, body }: { type: string; name: string; body: string | Buffer }): void {
  koa.set({ 'content-type': type, 'content-disposition': `attachment; filename="${name}"` })
  koa.body = body
}

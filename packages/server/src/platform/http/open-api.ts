import type { About, Operation } from '@dystracer/core/people/operation'
import { PERMISSIONS } from '@dystracer/core/people/permissions'
import { zProblem } from '@dystracer/core/basics/wire'
import { z } from 'zod'

/** An operation below a root of its own (`/receive`, `/otlp`, feeds) is described by its whole path; all others stand below the API's root. */
const ROOT = '/api/v1'

/** The description of all operations as OpenAPI 3.1, from the same table that the routes are made of. `names` are the operations' names, which become the operation ids. */
export function describeOperations(operations: Readonly<Record<string, Operation>>): object {
  const paths: Record<string, Record<string, object>> = {}
  for (const [operationId, declared] of Object.entries(operations)) {
    const path = pathOf(declared)
    paths[path] = { ...paths[path], [declared.method]: describe(operationId, declared) }
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Dystracer', version: '1', license: { name: 'Apache-2.0', identifier: 'Apache-2.0' } },
    components: {
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer', description: 'An access token, as `./dystracer token` prints it.' },
        session: { type: 'apiKey', in: 'cookie', name: 'dys_session', description: 'A signed-in browser; changes also send x-dystracer-csrf.' },
      },
      schemas: { Problem: toSchema(zProblem, 'output') },
    },
    paths,
  }
}

/** The whole path of an operation, parameters in braces. */
export function pathOf({ path }: Pick<Operation, 'path'>): string {
  const braced = path.replace(/[:*](\w+)/g, '{$1}')
  return isBelowRoot(path) ? `${ROOT}${braced}` : braced
}

/** Whether an operation stands below the API's root. */
export function isBelowRoot(path: string): boolean {
  return !/^\/(?:receive|otlp|feeds|healthz|api)(?:\/|$)/.test(path)
}

function describe(operationId: string, declared: Operation): object {
  const names = [...declared.path.matchAll(/[:*](\w+)/g)].map((match) => match[1] ?? '')
  return {
    operationId,
    summary: declared.summary,
    description: `${whoMay(declared)}${ABOUT_WORDS[declared.about]}`,
    security: declared.may === 'anyone' ? [{}, { token: [] }, { session: [] }] : [{ token: [] }, { session: [] }],
    parameters: [...names.map((name) => ({ name, in: 'path', required: true, schema: { type: 'string' } })), ...queryParameters(declared.query)],
    ...(declared.body && { requestBody: { required: true, content: { 'application/json': { schema: toSchema(declared.body, 'input') } } } }),
    ...(declared.bodyMedia && {
      requestBody: { required: true, content: { [declared.bodyMedia]: { schema: { type: 'string', format: 'binary' } } } },
    }),
    responses: {
      [declared.status ?? 200]: {
        description: 'done',
        content: { [declared.media ?? 'application/json']: { schema: declared.media ? { type: 'string' } : toSchema(declared.answer, 'output') } },
      },
      default: {
        description: 'problem details (RFC 9457)',
        content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
      },
    },
  }
}

function whoMay({ may }: Operation): string {
  if (may === 'anyone') return 'Needs no account.'
  if (may === 'member-of-any') return 'For whoever may read something; shows and touches only what the asker may.'
  return `Takes the right "${may}" (to ${PERMISSIONS[may].act}), from the role "${PERMISSIONS[may].from}" on.`
}

const ABOUT_WORDS: Record<About, string> = {
  nothing: '',
  project: ' In the project of the path.',
  item: ' In the item’s project.',
  fault: ' In the project of the fault’s service.',
  service: ' In the service’s project.',
  repository: ' In a project that the repository belongs to.',
  requirement: ' In the requirement’s project.',
  release: ' In the project of the release’s service.',
  deployment: ' In the project of the service that is deployed.',
  import: ' In the project that is imported into.',
}

function queryParameters(query: z.ZodType | undefined): object[] {
  if (!query) return []
  const schema = toSchema(query, 'input') as { properties?: Record<string, object>; required?: string[] }
  return Object.entries(schema.properties ?? {}).map(([name, property]) => ({
    name,
    in: 'query',
    required: schema.required?.includes(name) ?? false,
    schema: property,
  }))
}

function toSchema(schema: z.ZodType, io: 'input' | 'output'): object {
  const { $schema: _, ...json } = z.toJSONSchema(schema, { io, unrepresentable: 'any' }) as { $schema?: string }
  return json
}

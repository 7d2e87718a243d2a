import type { About, Operation, OutsidePath } from '@dystracer/core/people/operation'
import { groupBy } from '@dystracer/core/basics/group-by'
import { PROBLEM_CATALOGUE, type ProblemCode } from '@dystracer/core/basics/problem-catalogue'
import { PERMISSIONS } from '@dystracer/core/people/permissions'
import { problemsOf, problemsOfOutside } from '@dystracer/core/people/problems-of'
import { zProblem } from '@dystracer/core/basics/wire'
import { z } from 'zod'

/** Operations stand below the API's root; outside paths are whole. */
const ROOT = '/api/v1'

/**
 * The description of all that can be asked as OpenAPI 3.1, from the same tables that the routes are made of. Their names become the
 * operation ids.
 */
export function describeOperations(
  operations: Readonly<Record<string, Operation>>,
  outside: Readonly<Record<string, OutsidePath>>,
): object {
  const paths: Record<string, Record<string, object>> = {}
  const named: Refusals = new Map()
  for (const [operationId, declared] of Object.entries(operations)) {
    const path = pathOf(declared)
    paths[path] = { ...paths[path], [declared.method]: describe(operationId, declared, named) }
  }
  for (const [operationId, declared] of Object.entries(outside)) {
    const path = braced(declared.path)
    paths[path] = { ...paths[path], [declared.method]: describeOutside(operationId, declared, named) }
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Dystracer', version: '1', license: { name: 'Apache-2.0', identifier: 'Apache-2.0' } },
    components: {
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer', description: 'An access token, as `./dystracer token` prints it.' },
        session: {
          type: 'apiKey',
          in: 'cookie',
          name: 'dys_session',
          description: 'A signed-in browser; changes also send x-dystracer-csrf.',
        },
        signature: { type: 'apiKey', in: 'header', name: 'webhook-signature', description: 'A Standard Webhooks signature.' },
      },
      schemas: { Problem: toSchema(zProblem, 'output') },
      responses: Object.fromEntries(named),
    },
    paths,
  }
}

/** The whole path of an operation, parameters in braces. */
export function pathOf({ path }: Pick<Operation, 'path'>): string {
  return `${ROOT}${braced(path)}`
}
function braced(path: string): string {
  return path.replace(/[:*](\w+)/g, '{$1}')
}
function pathParameters(path: string): object[] {
  return [...path.matchAll(/[:*](\w+)/g)].map(([, name]) => ({ name, in: 'path', required: true, schema: { type: 'string' } }))
}

function describe(operationId: string, declared: Operation, named: Refusals): object {
  return {
    operationId,
    summary: declared.summary,
    description: `${whoMay(declared)}${ABOUT_WORDS[declared.about]}`,
    security: declared.may === 'anyone' ? [{}, { token: [] }, { session: [] }] : [{ token: [] }, { session: [] }],
    parameters: [...pathParameters(declared.path), ...queryParameters(declared.query)],
    ...(declared.body && {
      requestBody: { required: true, content: { 'application/json': { schema: toSchema(declared.body, 'input') } } },
    }),
    ...(declared.bodyMedia && {
      requestBody: { required: true, content: { [declared.bodyMedia]: { schema: { type: 'string', format: 'binary' } } } },
    }),
    responses: {
      [declared.status ?? 200]: {
        description: 'done',
        content: {
          [declared.media ?? 'application/json']: { schema: declared.media ? { type: 'string' } : toSchema(declared.answer, 'output') },
        },
      },
      ...refusalsOf(problemsOf(declared), named),
    },
  }
}

function describeOutside(operationId: string, declared: OutsidePath, named: Refusals): object {
  const bytes = { type: 'string', format: 'binary' }
  const { takes, gives } = declared
  const taken = (media: string) => (media === 'application/json' && takes?.json ? toSchema(takes.json, 'input') : bytes)
  const answer = (media: string) =>
    media === 'application/json' && gives.json ? toSchema(gives.json, 'output') : media === 'application/json' ? {} : bytes
  return {
    operationId,
    summary: declared.summary,
    description: `${proofOf(declared).words}${takes ? ` At most ${takes.limitBytes >> 20} MB, as sent and as inflated.` : ''}`,
    security: proofOf(declared).schemes,
    parameters: [...pathParameters(declared.path), ...queryParameters(declared.query)],
    ...(takes && {
      requestBody: { required: true, content: Object.fromEntries(takes.media.map((media) => [media, { schema: taken(media) }])) },
    }),
    responses: {
      [gives.status]: { description: 'taken', content: Object.fromEntries(gives.media.map((media) => [media, { schema: answer(media) }])) },
      ...(declared.refusesAs === 'problem'
        ? refusalsOf(problemsOfOutside(declared), named)
        : {
            default: {
              description: 'a Status message of OTLP, in the encoding of the request',
              content: Object.fromEntries(gives.media.map((media) => [media, {}])),
            },
          }),
    },
  }
}

/** The refusals that several operations share, by the name under which each stands in the description. */
type Refusals = Map<string, object>

/**
 * Problem details (RFC 9457): for each status the response with the codes that it may carry, as a reference to where it stands in the
 * description once.
 */
function refusalsOf(codes: readonly ProblemCode[], named: Refusals): Record<string, object> {
  const byStatus = [...groupBy(codes, (code) => PROBLEM_CATALOGUE[code].status)]
  return Object.fromEntries(
    byStatus.map(([status, ofStatus]) => {
      const name = ['refused', ...ofStatus.toSorted()].join('-')
      named.set(name, {
        description: ofStatus.map((code) => `${code}: ${PROBLEM_CATALOGUE[code].title}`).join('; '),
        content: {
          'application/problem+json': {
            schema: { allOf: [{ $ref: '#/components/schemas/Problem' }, { type: 'object', properties: { code: { enum: ofStatus } } }] },
          },
        },
      })
      return [String(status), { $ref: `#/components/responses/${name}` }]
    }),
  )
}

const PROOF_WORDS: Record<OutsidePath['proof'], string> = {
  telemetry: 'For a token of scope telemetry or intake.',
  evidence: 'For a token of scope evidence or intake.',
  maps: 'For a token of scope maps or intake.',
  mail: 'For a token of scope mail.',
  'private-link': 'The address itself is the proof.',
  nobody: 'For everybody.',
}

function proofOf({ proof, maySign }: OutsidePath): { words: string; schemes: object[] } {
  if (proof === 'private-link' || proof === 'nobody') return { words: PROOF_WORDS[proof], schemes: [{}] }
  return {
    words: `${PROOF_WORDS[proof]}${maySign ? ' A Standard Webhooks signature does as well.' : ''}`,
    schemes: [{ token: [] }, ...(maySign ? [{ signature: [] }] : [])],
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

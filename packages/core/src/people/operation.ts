import type { z } from 'zod'
import type { ProblemCode } from '../basics/problem-catalogue.js'
import type { Permission } from './permissions.js'
import type { Sent } from './who.js'

/**
 * What an operation is about: the thing that its path names, whose project decides about the right. `nothing` in particular: lists over
 * what one may see, and what belongs to the installation.
 */
export const ABOUT = [
  'nothing',
  'project',
  'item',
  'fault',
  'service',
  'repository',
  'requirement',
  'release',
  'deployment',
  'import',
] as const
/** The kind of thing in whose project the right is asked. */
export type About = (typeof ABOUT)[number]

/**
 * One thing that can be asked of the server, as data. The routes, OpenAPI, the interface's endpoints, the typed client and the matrix of
 * rights in the tests come from the same table.
 */
export interface Operation {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete'
  /** Parameters as `:name`; `*name` takes the rest, slashes too. */
  readonly path: string
  readonly summary: string
  /**
   * Who may: a right in the project of the thing, `anyone` (without an account, too), or `member-of-any` (whoever may read something; the
   * command
   * then looks at each thing that it touches).
   */
  readonly may: Permission | 'anyone' | 'member-of-any'
  readonly about: About
  /** What only a person has (an inbox, something in hand, a note): a token is refused. */
  readonly isPersonal?: true
  /** Whether request or answer holds a secret: then neither is kept for an `Idempotency-Key`, not even as a hash. */
  readonly isSecret?: true
  /**
   * Whether it gives somebody a way in (a token, a role, a link to a new password): a session that has not proven of late whose it is
   * is asked for the password again first.
   */
  readonly asksAgain?: true
  /** Whether it is about now alone, also for who looks back: people, secrets, what comes in and goes out. */
  readonly isOfNow?: true
  /**
   * Whether what it reads grows with the data. Where such an answer has come to take long it is read beside the main thread, and ended past
   * a budget of time; so its handler reads the tables, and nothing that a server keeps in memory.
   */
  readonly mayTakeLong?: true
  readonly query?: z.ZodType
  readonly body?: z.ZodType
  readonly answer: z.ZodType
  /** The media type of an answer that is not JSON. */
  readonly media?: string
  /** The media type of a body that is not JSON: the handler reads it. */
  readonly bodyMedia?: string
  readonly status?: 200 | 201 | 202
  /** Why it may be refused, beside what follows from the rest of the declaration; see `problemsOf`. */
  readonly problems?: readonly ProblemCode[]
}

/**
 * A path outside the API's root, which speaks the protocol of whoever calls it (OpenTelemetry, CloudEvents, a calendar program). It is data
 * like an operation, and described like one, but its body
 * is bytes that its handler reads, and what it proves itself by is no account.
 */
export interface OutsidePath {
  readonly method: 'get' | 'post'
  readonly path: string
  readonly summary: string
  /** What stands for an account: a token that may send this, the address itself, or nothing where it is for everybody. */
  readonly proof: Sent | 'private-link' | 'nobody'
  /** Whether a Standard Webhooks signature over the body does as well as a token. */
  readonly maySign?: true
  /** The media types that it takes, and how large a body may be, inflated too; `application/json` may have a schema. */
  readonly takes?: { readonly media: readonly string[]; readonly limitBytes: number; readonly json?: z.ZodType }
  readonly query?: z.ZodType
  /** The media types that it answers in; `application/json` has the schema. */
  readonly gives: { readonly media: readonly string[]; readonly json?: z.ZodType; readonly status: 200 | 202 }
  /** OTLP answers errors as its own Status message; everything else as problem details. */
  readonly refusesAs: 'problem' | 'otlp-status'
  /** Why it may be refused, beside what follows from the rest of the declaration. */
  readonly problems?: readonly ProblemCode[]
}
/** Declares an outside path with its exact types. */
export function outsidePath<const Declared extends OutsidePath>(declared: Declared): Declared {
  return declared
}

/** Declares an operation with its exact types. */
export function operation<const Declared extends Operation>(declared: Declared): Declared {
  return declared
}

type ParamNames<Path extends string> = Path extends `${infer Head}/${infer Rest}`
  ? ParamNames<Head> | ParamNames<Rest>
  : Path extends `:${infer Name}` | `*${infer Name}`
    ? Name
    : never

/** The parameters that a path names, each a text. */
export type ParamsOf<Declared extends Operation> = Record<ParamNames<Declared['path']>, string>
type Parsed<Schema, Side extends 'input' | 'output', Missing> = Schema extends z.ZodType
  ? Side extends 'input'
    ? z.input<Schema>
    : z.output<Schema>
  : Missing
/** What a caller may send as query and body. */
export type QueryIn<Declared extends Operation> = Parsed<Declared['query'], 'input', Record<string, never>>
/** What a caller sends: defaults may be left out. */
export type BodyIn<Declared extends Operation> = Parsed<Declared['body'], 'input', undefined>
/** The same after checking, with the defaults filled in: what a handler is given. */
export type QueryOut<Declared extends Operation> = Parsed<Declared['query'], 'output', Record<string, never>>
/** What a handler receives: defaults are filled. */
export type BodyOut<Declared extends Operation> = Parsed<Declared['body'], 'output', undefined>
/** What an operation answers. */
export type AnswerOf<Declared extends Operation> = z.output<Declared['answer']>

/** What a call of an operation takes: only what there is to say has to be said. */
export type CallInput<Declared extends Operation> = ([ParamNames<Declared['path']>] extends [never]
  ? { params?: undefined }
  : { params: ParamsOf<Declared> }) &
  (Declared['query'] extends z.ZodType
    ? Record<string, never> extends QueryIn<Declared>
      ? { query?: QueryIn<Declared> }
      : { query: QueryIn<Declared> }
    : { query?: undefined }) &
  (Declared['body'] extends z.ZodType ? { body: BodyIn<Declared> } : { body?: undefined })

/**
 * The address of an operation below the API's root, with its parameters filled in and escaped. A `repository/rest` in one parameter keeps
 * its slash only where the path takes the rest.
 */
export function addressOf(
  declared: Pick<Operation, 'path'>,
  input: { params?: Readonly<Record<string, string>> | undefined; query?: object | undefined },
): string {
  const path = declared.path
    .split('/')
    .map((part) => {
      if (part.startsWith(':')) return encodeURIComponent(input.params?.[part.slice(1)] ?? '')
      if (part.startsWith('*')) return (input.params?.[part.slice(1)] ?? '').split('/').map(encodeURIComponent).join('/')
      return part
    })
    .join('/')
  const asked = Object.entries(input.query ?? {}).filter(([, value]) => value !== undefined && value !== null)
  return asked.length === 0 ? path : `${path}?${new URLSearchParams(asked.map(([name, value]): [string, string] => [name, String(value)]))}`
}

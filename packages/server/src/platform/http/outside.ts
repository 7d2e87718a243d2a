import type { OutsidePath } from '@dystracer/core/people/operation'
import type Router from '@koa/router'
import type { Context } from 'koa'
import type { z } from 'zod'
import { readBody } from './read-body.js'

/** What a handler of an outside path is given: the body as sent, inflated, and the query as checked. */
export interface Taken<Declared extends OutsidePath> {
  koa: Context
  body: Buffer
  query: Declared['query'] extends z.ZodType ? z.output<Declared['query']> : undefined
}

/**
 * Binds an outside path to what answers it, with the limit, the query and the status that the table declares. `prove` throws for whoever
 * may not. A token is looked at before the body is read, a signature after it, since it
 * signs the body.
 */
export function handleOutside<const Declared extends OutsidePath>(
  router: Router,
  declared: Declared,
  prove: (koa: Context, body: Buffer | null) => void,
  answer: (taken: Taken<Declared>) => object | Promise<object>,
): void {
  router.register(declared.path, [declared.method], async (koa) => {
    const isSigned = declared.proof === 'signature-or-intake-token'
    if (!isSigned) prove(koa, null)
    const query = declared.query?.parse({ ...koa.query }) as Taken<Declared>['query']
    const body = await readBody(koa.req, declared.takes?.limitBytes ?? 0)
    if (isSigned) prove(koa, body)
    koa.body = await answer({ koa, body, query })
    koa.status = declared.gives.status
  })
}

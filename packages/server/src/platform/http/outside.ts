import type { OutsidePath } from '@dystracer/core/people/operation'
import type { Who } from '@dystracer/core/people/who'
import type Router from '@koa/router'
import type { Context } from 'koa'
import type { z } from 'zod'
import { cleanTexts } from './clean-texts.js'
import { readBody } from './read-body.js'

/** What a handler of an outside path is given: the body as sent, inflated, and the query as checked. */
export interface Taken<Declared extends OutsidePath> {
  koa: Context
  body: Buffer
  /** Who sent it, as far as what they proved themselves by says so. */
  who: Who | null
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
  prove: (koa: Context, body: Buffer | null) => Who | null,
  answer: (taken: Taken<Declared>) => object | Promise<object>,
): void {
  router.register(declared.path, [declared.method], async (koa) => {
    const isSigned = declared.maySign === true
    const sender = isSigned ? null : prove(koa, null)
    const query = declared.query?.parse(cleanTexts(koa.query)) as Taken<Declared>['query']
    const body = await readBody(koa.req, declared.takes?.limitBytes ?? 0)
    const who = isSigned ? prove(koa, body) : sender
    koa.body = await answer({ koa, body, query, who })
    koa.status = declared.gives.status
  })
}

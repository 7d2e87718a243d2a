import { Problem } from '@dystracer/core/basics/problem'
import type { ReqifInput } from '@dystracer/core/requirements/reqif/write-reqif'
import { slot, type ServiceContext } from '#platform/context'
import type { ExchangeMethods, ReadFile, ReadInput } from './exchange.protocol.js'

const EXCHANGE = slot('exchange worker', ({ threads }) =>
  threads.open<ExchangeMethods>({ name: 'requirement files', entry: new URL('./exchange.worker.js', import.meta.url), data: {} }),
)

/** What a file of requirements says, read on a thread of its own. Throws `malformed-body` with the place. */
export async function readFileAside(
  ctx: ServiceContext,
  { bytes, ...input }: Omit<ReadInput, 'bytes'> & { bytes: Buffer },
): Promise<ReadFile> {
  const copy = new Uint8Array(bytes)
  const read = await ctx.use(EXCHANGE).call('read', { ...input, bytes: copy }, { transfer: [copy.buffer] })
  if (!read.isRead) throw new Problem('malformed-body', { detail: `${read.why}. Nothing was taken.` })
  return read.file
}

/** An exchange file, written on the same thread. */
export function writeReqifAside(ctx: ServiceContext, input: ReqifInput): Promise<string> {
  return ctx.use(EXCHANGE).call('write', input)
}

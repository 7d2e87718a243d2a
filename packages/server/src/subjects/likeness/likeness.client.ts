import { join } from 'node:path'
import { slot, type ServiceContext } from '#platform/context'
import type { LikenessMethods } from './likeness.protocol.js'

const LIKENESS = slot('likeness worker', ({ threads, config }) =>
  threads.open<LikenessMethods>({
    name: 'likeness',
    entry: new URL('./likeness.worker.js', import.meta.url),
    data: { dbPath: join(config.dataDir, 'dystracer.db') },
  }),
)

/** The thread that holds the index of texts. */
export function likenessWorker(ctx: Pick<ServiceContext, 'use'>) {
  return ctx.use(LIKENESS)
}

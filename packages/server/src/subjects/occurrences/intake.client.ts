import { join } from 'node:path'
import { slot, type ServiceContext } from '#platform/context'
import type { IntakeData, IntakeMethods } from './intake.protocol.js'
import { mirrorsDir } from '#subjects/code/index'

const INTAKE = slot('intake worker', ({ threads, config }) =>
  threads.open<IntakeMethods>({
    name: 'intake',
    entry: new URL('./intake.worker.js', import.meta.url),
    data: {
      volumePath: join(config.dataDir, 'occurrences.db'),
      dbPath: join(config.dataDir, 'dystracer.db'),
      mirrorsDir: mirrorsDir(config),
      keepPerMinute: config.keepPerMinute,
    } satisfies IntakeData,
  }),
)

/** The thread that alone writes occurrences. */
export function intakeWorker(ctx: Pick<ServiceContext, 'use'>) {
  return ctx.use(INTAKE)
}

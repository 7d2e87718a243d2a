import { randomBytes } from 'node:crypto'
import { join } from 'node:path'
import { rememberSecret } from '#subjects/people/index'
import { slot, type ServiceContext } from '#platform/context'
import type { IntakeData, IntakeMethods } from './intake.protocol.js'
import { mirrorsDir } from '#subjects/git/index'

const INTAKE = slot('intake worker', ({ threads, config, db }) =>
  threads.open<IntakeMethods>({
    name: 'intake',
    entry: new URL('./intake.worker.js', import.meta.url),
    data: {
      volumePath: join(config.dataDir, 'occurrences.db'),
      dbPath: join(config.dataDir, 'dystracer.db'),
      mirrorsDir: mirrorsDir(config),
      keepPerMinute: config.keepPerMinute,
      personKey: rememberSecret(db, 'person-pseudonyms', () => randomBytes(32).toString('base64url')),
    } satisfies IntakeData,
  }),
)

/** The thread that alone writes occurrences. */
export function intakeWorker(ctx: Pick<ServiceContext, 'use'>) {
  return ctx.use(INTAKE)
}

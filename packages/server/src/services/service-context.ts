import type { CommitGraph } from '@dystracer/core/fixes/commit-graph'
import type { Logger } from 'pino'
import type { Config } from '../config/config.js'
import type { Db } from '../db/open.js'
import type { Journal } from '../journal/journal.js'
import type { CodeHost, Deployer, Mailer } from '../ports/outside.js'
import type { GitMethods } from '../workers/git.protocol.js'
import type { IntakeMethods } from '../workers/intake.protocol.js'
import type { LikenessMethods } from '../workers/likeness.protocol.js'
import type { WorkerClient } from '../workers/rpc.js'

/** What services work with; built once in context.ts, any part replaceable in tests. Services read `db` and write through `journal` only. */
export interface ServiceContext {
  config: Config
  log: Logger
  nowMs: () => number
  newId: () => string
  db: Db
  /** Read-only view of the volume database. */
  volume: Db
  journal: Journal
  graphs: Map<string, CommitGraph>
  git: WorkerClient<GitMethods>
  intake: WorkerClient<IntakeMethods>
  likeness: WorkerClient<LikenessMethods>
  /** Null when no such service is connected. */
  codeHost: CodeHost | null
  deployer: Deployer | null
  mailer: Mailer
  /** Work that goes on after the answer; a stop waits for it. */
  background: { add(work: Promise<unknown>, what: string): void }
}

import type { CommitGraph } from '@dystracer/core/code/commit-graph'
import type { Logger } from 'pino'
import type { Config } from '#platform/config/config'
import type { Db } from '#platform/db/open'
import type { Journal } from '#platform/journal/journal'
import type { CodeHost } from '#subjects/code/code-host'
import type { Deployer } from '#subjects/releases/deployer'
import type { Mailer } from '#subjects/inbox/mailer'
import type { GitMethods } from '#subjects/code/git.protocol'
import type { IntakeMethods } from '#subjects/occurrences/intake.protocol'
import type { LikenessMethods } from '#subjects/likeness/likeness.protocol'
import type { WorkerClient } from '#platform/threads/worker-client'

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

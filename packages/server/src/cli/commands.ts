import { readFileSync } from 'node:fs'
import { checkBundle } from '#subjects/releases/record-bundle'
import { join } from 'node:path'
import type { CommandOptions } from '#platform/config/config'
import { openMainDbAsIs } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { makeToken } from '#subjects/people/tokens.commands'
import { zMakeToken } from '@dystracer/core/people/token-wire'
import { SCOPES } from '@dystracer/core/people/who'
import { z } from 'zod'
import type { Head } from '#platform/journal/chain'
import { findTroubles, requireData } from './data-folder.js'

/** A token as asked for on the command line. */
export interface TokenOptions {
  name: string
  scope: string
  project?: string
  service?: string[]
  origin?: string[]
  days?: string
}

/** Makes a token; throws with what is wrong for a scope, project, service or number of days that makes no sense. */
export function token(options: CommandOptions, asked: TokenOptions): string {
  const { name, project, service: services = [], origin: origins = [], days } = asked
  const scope = SCOPES.find((known) => known === asked.scope)
  if (!scope) throw new Error(`--scope must be one of ${SCOPES.join(', ')}, not ${asked.scope}`)
  const dayCount = days === undefined ? null : Number(days)
  if (scope !== 'admin') {
    const checked = zMakeToken.safeParse({ name, scope, services, origins, days: dayCount })
    if (!checked.success) throw new Error(z.prettifyError(checked.error))
  }
  const db = openMainDbAsIs(join(requireData(options), 'dystracer.db'))
  try {
    if (project !== undefined && !sql(db, 'SELECT 1 FROM project WHERE prefix = @project').get({ project }))
      throw new Error(`there is no project ${project}; --project takes its prefix`)
    return makeToken(db, { name, scope, project: project ?? null, services, origins, days: dayCount, nowMs: Date.now() })
  } finally {
    db.close()
  }
}

/** Says what is wrong in a data folder, whether nothing is, and the journal's head, which somebody may keep elsewhere. */
export async function verify(options: CommandOptions & { head?: string }, say: (line: string) => void): Promise<boolean> {
  const kept = options.head === undefined ? null : readHead(options.head)
  const { count, head, troubles } = await findTroubles(requireData(options), kept)
  for (const line of troubles) say(line)
  say(troubles.length === 0 ? `clean: ${count} journal entries give the tables as they are` : 'not clean')
  say(`head ${head.seq}:${head.chain}`)
  return troubles.length === 0
}

/** Says whether the record of a release is whole and as it was signed, and by which key; true where it is. */
export function verifyBundle(file: string, fingerprint: string | undefined, say: (line: string) => void): boolean {
  const check = checkBundle(readFileSync(file), fingerprint)
  say(check.isSound ? `sound: the record of ${check.release}, signed by ${check.fingerprint}` : `not sound: ${check.why}`)
  return check.isSound
}

function readHead(text: string): Head {
  const match = /^(\d+):([0-9a-f]{64})$/.exec(text)
  if (!match) throw new Error('--head takes what an earlier verify printed, such as 1204:9f3c…')
  return { seq: Number(match[1]), chain: match[2] ?? '' }
}

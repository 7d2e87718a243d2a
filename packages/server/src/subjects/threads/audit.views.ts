import { execFile } from 'node:child_process'
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { existsSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { promisify } from 'node:util'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import { type AuditedRequirement, type AuditReport, proofStateOf } from '@dystracer/core/threads/audit-report'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { nameOfPerson } from '#subjects/people/index'
import { getItem, isSuspect, listAssertions, onlyVisible, toSummary } from '#subjects/records/index'
import {
  checksOf,
  compareBaseline,
  listBaselines,
  listGaps,
  listRequirements,
  requirementKeysOf,
  verifyingTests,
} from '#subjects/requirements/index'
import { GET_PROJECT_NAME } from './audit.queries.js'

const PRINT_MS = 60_000
const CHROMIUM = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium', '/usr/bin/chromium-browser']

/**
 * What an audit asks of a project's requirements, as they stand now: how far each is proved and by what,
 * what is open, and, where a baseline is named, what changed since. Items that the asker may not see are not in it. Throws `not-found`.
 */
export function readAudit(ctx: ServiceContext, who: Who, project: string, against?: string): AuditReport {
  const row = sql(ctx.db, GET_PROJECT_NAME).get<{ name: string }>({ project })
  if (!row) throw new Problem('not-found', { detail: `There is no project ${project}.` })
  const nameOf = (actor: string) => nameOfPerson(ctx.db, actor) ?? actor
  return {
    format: 'dystracer-audit-report',
    version: 1,
    project: { prefix: project, name: row.name },
    atMs: ctx.nowMs(),
    requirements: auditedRequirements(ctx, who, project),
    gaps: listGaps(ctx, who, project, Number.POSITIVE_INFINITY).rows,
    baselines: listBaselines(ctx, project).rows.map(({ name, atMs, hash, isIntact, withdrawn, agreedBy }) => ({
      name,
      atMs,
      hash,
      isIntact,
      withdrawn,
      agreedBy: agreedBy.map(({ personId }) => nameOf(personId)),
    })),
    changes: against === undefined ? null : compareBaseline(ctx, who, project, against),
  }
}

function auditedRequirements(ctx: ServiceContext, who: Who, project: string): AuditedRequirement[] {
  const own = requirementKeysOf(ctx, project)
  const [tests, checks] = [verifyingTests(ctx), checksOf(ctx)]
  return listRequirements(ctx, who)
    .filter((known) => own.has(known.key) && !known.isRetired)
    .map((known) => ({
      key: known.key,
      title: known.title,
      text: known.text,
      parent: known.parent,
      isHeading: known.isHeading,
      revision: known.revision,
      state: proofStateOf(known),
      items: itemsOf(ctx, who, known.key),
      tests: (tests.get(known.key) ?? []).map(({ name, outcome, repository, build }) => ({
        name,
        outcome,
        build: `${repository}/${build}`,
      })),
      checks: (checks.get(known.key) ?? []).map(({ number, title, environment, outcome, by, atMs, isStale }) => ({
        number,
        title,
        environment,
        outcome,
        by: nameOfPerson(ctx.db, by) ?? by,
        atMs,
        isStale: isStale === 1,
      })),
    }))
}

/** The items tied to a requirement, each once, as the asker may see them. */
function itemsOf(ctx: ServiceContext, who: Who, key: string): AuditedRequirement['items'] {
  const ties = new Map(
    listAssertions(ctx.db, { kind: 'requirement', id: key }).flatMap((link) =>
      link.from_kind === 'item' ? [[link.from_id, link] as const] : [],
    ),
  )
  const items = [...ties.keys()].flatMap((id) => getItem(ctx.db, id) ?? []).map(toSummary)
  return onlyVisible(ctx.db, who, items)
    .map((item) => {
      const link = ties.get(item.key)
      return {
        key: item.key,
        title: item.title,
        stage: item.stage,
        kind: link?.kind ?? '',
        isSuspect: link !== undefined && isSuspect(ctx.db, link),
      }
    })
    .sort((a, b) => (a.key < b.key ? -1 : 1))
}

/**
 * A page printed as PDF by Debian's Chromium, which is given that one file, no net and a profile that goes
 * with it. Throws `not-found` where there is none: any browser prints the page.
 */
export async function printPage(html: string): Promise<Buffer> {
  const program = CHROMIUM.find((path) => existsSync(path))
  if (!program)
    throw new Problem('not-found', {
      detail: 'This server has no Chromium to print with. Open the page instead, and print it from your browser.',
    })
  const folder = await mkdtemp(join(tmpdir(), 'dystracer-print-'))
  try {
    const [page, pdf] = [join(folder, 'page.html'), join(folder, 'page.pdf')]
    await writeFile(page, html)
    const options = [
      '--headless',
      // As root it would not start otherwise; scripts are off, and the page is ours.
      ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--disable-javascript',
      '--host-resolver-rules=MAP * ~NOTFOUND',
      `--user-data-dir=${join(folder, 'profile')}`,
      '--no-pdf-header-footer',
      `--print-to-pdf=${pdf}`,
      pathToFileURL(page).href,
    ]
    await promisify(execFile)(program, options, { timeout: PRINT_MS, env: { PATH: '/usr/bin:/bin', HOME: folder } })
    return await readFile(pdf)
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

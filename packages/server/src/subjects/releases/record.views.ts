import type { ReleaseRecord } from '@dystracer/core/releases/record'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { nameOfPerson } from '#subjects/people/index'
import { agreedTo, checkedFor, passOf } from '#subjects/places/index'
import { holdAgainst } from './contents.views.js'
import {
  GET_PROJECT_OF_SERVICE,
  LIST_CHECK_OF_RELEASE,
  LIST_DEPLOYMENT_OF_RELEASE,
  LIST_PASSED_OVER,
  LIST_PULL_REQUEST_OF_COMMITS,
  LIST_REQUIREMENT_BY_KEYS,
  LIST_TEST_OF_RELEASE,
  LIST_VERDICT_WITH_NAME,
} from './record.queries.js'
import { releaseBefore } from './release-order.js'
import { requireRelease } from './releases.views.js'

/**
 * What an audit asks of a release, against the one that it builds on. Confidential items that the asker may
 * not see are not in it. Of the same state it is the same: nothing of the moment goes in. Throws `not-found`.
 */
export function readRecord(ctx: ServiceContext, who: Who, text: string): ReleaseRecord {
  const row = requireRelease(ctx, text)
  const { service, name, repository, sha } = row
  const before = releaseBefore(ctx, row)
  const held = holdAgainst(ctx, who, { service, release: name, repository, sha }, before && { ...before, runsIn: null }, {
    shownMax: Number.POSITIVE_INFINITY,
  })
  const commits = held.commits.filter(({ as }) => as === 'added')
  const shas = JSON.stringify(commits.map((commit) => commit.sha))
  const nameOf = (actor: string | null) => (actor === null ? null : (nameOfPerson(ctx.db, actor) ?? actor))
  const project = sql(ctx.db, GET_PROJECT_OF_SERVICE).get<{ project: string }>({ service })?.project ?? ''
  return {
    format: 'dystracer-release-record',
    version: 1,
    release: { service, name, repository, tag: row.tag, sha, atMs: row.at_ms, against: before?.name ?? null },
    requirements: sql(ctx.db, LIST_REQUIREMENT_BY_KEYS).all<ReleaseRecord['requirements'][number]>({
      keys: JSON.stringify(held.requirements),
    }),
    items: held.items
      .map(({ key, title, type, stage, requirements }) => ({ key, title, type, stage, requirements: [...requirements].sort() }))
      .sort((a, b) => (a.key < b.key ? -1 : 1)),
    commits: commits.map(({ sha: one, subject, author, atMs, items, as }) => ({
      sha: one,
      subject,
      author,
      atMs,
      items: [...items].sort(),
      as,
    })),
    pullRequests: sql(ctx.db, LIST_PULL_REQUEST_OF_COMMITS)
      .all<Omit<ReleaseRecord['pullRequests'][number], 'verdicts' | 'passedOver'>>({ repository, shas })
      .map((pull) => ({
        ...pull,
        verdicts: sql(ctx.db, LIST_VERDICT_WITH_NAME).all<ReleaseRecord['pullRequests'][number]['verdicts'][number]>({
          repository,
          number: pull.number,
        }),
        passedOver: sql(ctx.db, LIST_PASSED_OVER)
          .all<{ actor: string; atMs: number; body: string }>({ subject: `pull-request:${repository}/${pull.number}` })
          .map(({ actor, atMs, body }) => {
            const { gates, words } = JSON.parse(body) as { gates: string[]; words: string }
            return { by: nameOf(actor) ?? actor, atMs, gates, words }
          }),
      })),
    tests: sql(ctx.db, LIST_TEST_OF_RELEASE)
      .all<{ name: string; outcome: string; build: number; verifies: string }>({ repository, sha })
      .map((test) => ({ ...test, verifies: JSON.parse(test.verifies) as string[] })),
    checks: sql(ctx.db, LIST_CHECK_OF_RELEASE)
      .all<ReleaseRecord['checks'][number]>({ project, release: `${service}@${name}` })
      .map((check) => ({ ...check, by: nameOf(check.by) ?? check.by })),
    deployments: sql(ctx.db, LIST_DEPLOYMENT_OF_RELEASE)
      .all<Omit<ReleaseRecord['deployments'][number], 'agreedBy' | 'checked' | 'passedOver'> & { deploymentId: string }>({ service, name })
      .map(({ deploymentId, ...one }) => {
        const pass = passOf(ctx, deploymentId)
        return {
          ...one,
          askedBy: nameOf(one.askedBy),
          approvedBy: nameOf(one.approvedBy),
          agreedBy: agreedTo(ctx, deploymentId)
            .flatMap((personId) => nameOf(`person:${personId}`) ?? [])
            .sort(),
          checked: checkedFor(ctx, deploymentId).sort(),
          passedOver: pass && { ...pass, by: nameOf(pass.by) ?? pass.by },
        }
      }),
  }
}

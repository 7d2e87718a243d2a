import type { ReleasesEvents } from '@dystracer/core/releases/events'
import type { JournalEntry } from '@dystracer/core/contract/events'
import type { Db } from '#platform/db/open'
import { isToldDeployment } from '@dystracer/core/releases/told-deployment'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of releases stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const releasesAppliers: Appliers<ReleasesEvents> = {
  'service-added': (db, entry) => {
    sql(
      db,
      `INSERT INTO service (name, project, repository, tag_prefix, path_prefix)
        VALUES (@name, @project, @repository, @tagPrefix, @pathPrefix)`,
    ).run({ pathPrefix: '', ...entry.body })
  },
  'service-changed': (db, entry) => {
    const { ownCode, foreignCode, ...body } = entry.body
    sql(
      db,
      `UPDATE service SET repository = @repository, tag_prefix = @tagPrefix, path_prefix = @pathPrefix,
        own_code = @own, foreign_code = @foreign WHERE name = @name`,
    ).run({ ...body, own: JSON.stringify(ownCode), foreign: JSON.stringify(foreignCode) })
  },
  'environment-added': (db, entry) => {
    const body = entry.body
    sql(db, 'INSERT INTO environment (name, kind, needs_approval, position) VALUES (@name, @kind, @needsApproval, @position)').run({
      ...body,
      needsApproval: Number(body.needsApproval),
    })
  },
  'environment-changed': (db, entry) => {
    const body = entry.body
    sql(db, 'UPDATE environment SET kind = @kind, needs_approval = @needsApproval, position = @position WHERE name = @name').run({
      ...body,
      needsApproval: Number(body.needsApproval),
    })
  },
  'environment-removed': (db, entry) => {
    sql(db, 'DELETE FROM environment WHERE name = @name').run(entry.body)
  },
  'release-found': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT INTO release (service, name, tag, sha, at_ms, is_rewritten) VALUES (@service, @name, @tag, @sha, @atMs, 0)
        ON CONFLICT (service, name) DO UPDATE SET sha = excluded.sha, is_rewritten = 1`,
    ).run({ service: body.service, name: body.name, tag: body.tag, sha: body.sha, atMs: entry.atMs })
  },
  'release-withdrawn': (db, { body: { service, release, isWithdrawn, why }, actor, atMs }) => {
    sql(db, 'DELETE FROM withdrawn_release WHERE service = @service AND release = @release').run({ service, release })
    if (isWithdrawn)
      sql(db, `INSERT INTO withdrawn_release (service, release, why, by, at_ms) VALUES (@service, @release, @why, @by, @atMs)`).run({
        service,
        release,
        why,
        by: actor,
        atMs,
      })
  },
  'deployment-asked': (db, entry) => {
    sql(
      db,
      `INSERT INTO deployment (deployment_id, service, release, environment, state, asked_by, at_ms)
        VALUES (@deploymentId, @service, @release, @environment, 'asked', @by, @atMs)`,
    ).run({ ...entry.body, by: entry.actor, atMs: entry.atMs })
  },
  'deployment-approved': (db, entry) => {
    sql(db, `UPDATE deployment SET state = 'approved', approved_by = @by WHERE deployment_id = @deploymentId AND state = 'asked'`).run({
      deploymentId: entry.body.deploymentId,
      by: entry.actor,
    })
  },
  'deployment-failed': (db, entry) => {
    sql(db, `UPDATE deployment SET state = 'failed', why = @why WHERE deployment_id = @deploymentId`).run(entry.body)
  },
  'notes-published': (db, { body, atMs }) => {
    sql(
      db,
      `INSERT OR REPLACE INTO published_note (service, release, reader, text, is_public, at_ms)
        VALUES (@service, @release, @reader, @text, @isPublic, @atMs)`,
    ).run({ ...body, isPublic: Number(body.isPublic), atMs })
  },
  'notes-withdrawn': (db, { body }) => {
    sql(db, 'DELETE FROM published_note WHERE service = @service AND release = @release AND reader = @reader').run(body)
  },
  'release-note-written': (db, { body }) => {
    const { text, ...place } = body
    if (text === '')
      sql(db, 'DELETE FROM release_note WHERE service = @service AND release = @release AND reader = @reader AND key = @key').run(place)
    else
      sql(
        db,
        `INSERT INTO release_note (service, release, reader, key, text) VALUES (@service, @release, @reader, @key, @text)
        ON CONFLICT (service, release, reader, key) DO UPDATE SET text = excluded.text`,
      ).run(body)
  },
  'deployment-seen': (db, entry) => {
    applyDeployment(db, entry.body, entry)
  },
  'deployment-taken-back': (db, { body: { deploymentId, service, environment } }) => {
    if (isToldDeployment(deploymentId)) sql(db, 'DELETE FROM deployment WHERE deployment_id = @deploymentId').run({ deploymentId })
    else
      sql(
        db,
        `UPDATE deployment SET running_at_ms = NULL, state = CASE WHEN approved_by IS NULL THEN 'asked' ELSE 'approved' END
          WHERE deployment_id = @deploymentId`,
      ).run({ deploymentId })
    settlePlace(db, { service, environment })
  },
}

/** What runs in a place is the deployment with the newest start there, in whatever order the reports arrive. */
function applyDeployment(db: Db, body: ReleasesEvents['deployment-seen'], entry: JournalEntry): void {
  sql(
    db,
    `INSERT INTO deployment (deployment_id, service, release, environment, state, asked_by, at_ms, running_at_ms)
    VALUES (@deploymentId, @service, @release, @environment, 'running', @by, @atMs, @atMs)
    ON CONFLICT (deployment_id) DO UPDATE SET state = 'running', running_at_ms = excluded.running_at_ms`,
  ).run({ ...body, by: body.by ?? entry.actor, atMs: entry.atMs })
  settlePlace(db, body)
}

function settlePlace(db: Db, { service, environment }: { service: string; environment: string }): void {
  sql(
    db,
    `UPDATE deployment SET state = CASE WHEN deployment_id =
      (SELECT deployment_id FROM deployment
        WHERE service = @service AND environment = @environment AND running_at_ms IS NOT NULL
        ORDER BY running_at_ms DESC, deployment_id DESC LIMIT 1)
      THEN 'running' ELSE 'replaced' END
    WHERE service = @service AND environment = @environment AND running_at_ms IS NOT NULL`,
  ).run({ service, environment })
}

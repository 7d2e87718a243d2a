import { sql } from '../db/statements.js'
import type { Db } from '../db/open.js'
import type { EventBodies, JournalEntry, LinkBody } from './events.js'

/** Events from outside: links, git, pull requests, builds, releases, deployments, faults. False when the kind is another family's. */
export function applyEvidenceEvent(db: Db, entry: JournalEntry): boolean {
  switch (entry.kind) {
    case 'link-asserted': {
      const body = entry.body as LinkBody
      sql(
        db,
        `INSERT INTO link_assertion (assertion_id, link_id, kind, from_kind, from_id, to_kind, to_id, provenance, source, stated_by, at_ms, target_revision, retracted_at_ms)
        VALUES (@assertionId, @linkId, @kind, @fromKind, @fromId, @toKind, @toId, @provenance, @source, @statedBy, @atMs, @targetRevision, NULL)
        ON CONFLICT (assertion_id) DO UPDATE SET retracted_at_ms = NULL, at_ms = excluded.at_ms, target_revision = excluded.target_revision`,
      ).run({
        assertionId: body.assertionId,
        linkId: body.linkId,
        kind: body.kind,
        fromKind: body.from.kind,
        fromId: body.from.id,
        toKind: body.to.kind,
        toId: body.to.id,
        provenance: body.provenance,
        source: body.source,
        statedBy: body.statedBy,
        atMs: entry.atMs,
        targetRevision: body.targetRevision,
      })
      return true
    }
    case 'link-retracted':
      sql(db, 'UPDATE link_assertion SET retracted_at_ms = @atMs WHERE assertion_id = @assertionId').run({
        assertionId: (entry.body as EventBodies['link-retracted']).assertionId,
        atMs: entry.atMs,
      })
      return true
    case 'link-vetoed':
      sql(db, 'INSERT OR IGNORE INTO link_veto (link_id, source) VALUES (@linkId, @source)').run(entry.body)
      return true
    case 'refs-moved':
      applyRefs(db, entry.body as EventBodies['refs-moved'], entry.atMs)
      return true
    case 'pull-request-seen': {
      // The newest version wins whatever the order of arrival.
      sql(
        db,
        `INSERT INTO pull_request (repository, number, title, body, state, author, head, base, head_sha, merge_sha, created_at_ms, updated_at_ms, version)
        VALUES (@repository, @number, @title, @body, @state, @author, @head, @base, @headSha, @mergeSha, @createdAtMs, @updatedAtMs, @version)
        ON CONFLICT (repository, number) DO UPDATE SET title = excluded.title, body = excluded.body, state = excluded.state, head_sha = excluded.head_sha, merge_sha = excluded.merge_sha,
          updated_at_ms = excluded.updated_at_ms, version = excluded.version WHERE excluded.version >= pull_request.version`,
      ).run(entry.body)
      return true
    }
    case 'build-started': {
      sql(
        db,
        `INSERT INTO build (repository, number, sha, branch, state, started_at_ms) VALUES (@repository, @number, @sha, @branch, 'running', @atMs)
        ON CONFLICT (repository, number) DO UPDATE SET branch = max(branch, excluded.branch), started_at_ms = min(started_at_ms, excluded.started_at_ms)`,
      ).run({ ...entry.body, atMs: entry.atMs })
      return true
    }
    case 'build-finished':
      sql(
        db,
        `INSERT INTO build (repository, number, sha, branch, state, started_at_ms, finished_at_ms) VALUES (@repository, @number, @sha, @branch, @state, @startedAtMs, @atMs)
        ON CONFLICT (repository, number) DO UPDATE SET branch = max(branch, excluded.branch), started_at_ms = min(started_at_ms, excluded.started_at_ms),
          state = CASE WHEN excluded.finished_at_ms >= coalesce(finished_at_ms, 0) THEN excluded.state ELSE state END, finished_at_ms = max(coalesce(finished_at_ms, 0), excluded.finished_at_ms)`,
      ).run({ ...entry.body, atMs: entry.atMs })
      return true
    case 'tests-reported':
      applyTests(db, entry.body as EventBodies['tests-reported'], entry.atMs)
      return true
    case 'release-found': {
      const body = entry.body as EventBodies['release-found']
      sql(
        db,
        `INSERT INTO release (service, name, tag, sha, at_ms, is_rewritten) VALUES (@service, @name, @tag, @sha, @atMs, 0)
        ON CONFLICT (service, name) DO UPDATE SET sha = excluded.sha, is_rewritten = 1`,
      ).run({ service: body.service, name: body.name, tag: body.tag, sha: body.sha, atMs: entry.atMs })
      return true
    }
    case 'deployment-asked':
      sql(
        db,
        `INSERT INTO deployment (deployment_id, service, release, environment, state, asked_by, at_ms) VALUES (@deploymentId, @service, @release, @environment, 'asked', @by, @atMs)`,
      ).run({ ...entry.body, by: entry.actor, atMs: entry.atMs })
      return true
    case 'deployment-approved':
      sql(db, `UPDATE deployment SET state = 'approved', approved_by = @by WHERE deployment_id = @deploymentId AND state = 'asked'`).run({
        deploymentId: (entry.body as EventBodies['deployment-approved']).deploymentId,
        by: entry.actor,
      })
      return true
    case 'deployment-failed':
      sql(db, `UPDATE deployment SET state = 'failed' WHERE deployment_id = @deploymentId`).run({
        deploymentId: (entry.body as EventBodies['deployment-failed']).deploymentId,
      })
      return true
    case 'deployment-seen':
      applyDeployment(db, entry.body as EventBodies['deployment-seen'], entry)
      return true
    case 'fault-found': {
      const body = entry.body as EventBodies['fault-found']
      sql(
        db,
        `INSERT INTO fault (number, fingerprint, service, type, message, masked_message, place, reason, trace_digest, first_seen_at_ms)
        VALUES (@number, @fingerprint, @service, @type, @message, @maskedMessage, @place, @reason, @traceDigest, @atMs)`,
      ).run({ ...body, reason: JSON.stringify(body.reason), atMs: entry.atMs })
      return true
    }
    case 'fault-merged': {
      const { number, into } = entry.body as EventBodies['fault-merged']
      sql(db, 'UPDATE fault SET merged_via = @into WHERE number = @number').run({ number, into })
      sql(db, 'UPDATE fault SET merged_into = @into WHERE number = @number OR merged_into = @number').run({ number, into })
      sql(db, `UPDATE item SET fault = 'F-' || @into WHERE fault = 'F-' || @number`).run({ number, into })
      return true
    }
    case 'fault-unmerged': {
      const { number, inner, items } = entry.body as EventBodies['fault-unmerged']
      sql(db, 'UPDATE fault SET merged_into = NULL, merged_via = NULL WHERE number = @number').run({ number })
      for (const one of inner) sql(db, 'UPDATE fault SET merged_into = @number WHERE number = @one').run({ number, one })
      for (const key of items) sql(db, `UPDATE item SET fault = 'F-' || @number WHERE key = @key`).run({ number, key })
      return true
    }
    case 'fault-split':
      return true
    case 'fault-reread': {
      const body = entry.body as EventBodies['fault-reread']
      sql(
        db,
        'UPDATE fault SET type = @type, message = @message, masked_message = @maskedMessage, place = @place, reason = @reason WHERE number = @number',
      ).run({ ...body, reason: JSON.stringify(body.reason) })
      return true
    }
    case 'rule-fired':
      sql(db, 'INSERT INTO rule_firing (rule_id, fault, item_key, at_ms) VALUES (@ruleId, @fault, @key, @atMs)').run({
        ruleId: (entry.body as EventBodies['rule-fired']).ruleId,
        fault: (entry.body as EventBodies['rule-fired']).fault,
        key: (entry.body as EventBodies['rule-fired']).key,
        atMs: entry.atMs,
      })
      return true
    default:
      return false
  }
}

function applyRefs(db: Db, body: EventBodies['refs-moved'], atMs: number): void {
  for (const move of body.moves) {
    const bind = { repository: body.repository, ref: move.ref, sha: move.to, atMs, forcedAtMs: move.isForced ? atMs : null }
    if (move.to === null) {
      sql(db, 'UPDATE git_ref SET deleted_at_ms = @atMs, moved_at_ms = @atMs WHERE repository = @repository AND ref = @ref').run({
        repository: bind.repository,
        ref: bind.ref,
        atMs,
      })
      continue
    }
    sql(
      db,
      `INSERT INTO git_ref (repository, ref, sha, first_seen_at_ms, moved_at_ms, forced_at_ms, deleted_at_ms) VALUES (@repository, @ref, @sha, @atMs, @atMs, @forcedAtMs, NULL)
      ON CONFLICT (repository, ref) DO UPDATE SET sha = excluded.sha, moved_at_ms = excluded.moved_at_ms, forced_at_ms = coalesce(excluded.forced_at_ms, git_ref.forced_at_ms), deleted_at_ms = NULL`,
    ).run(bind)
  }
}

/** A test that both passed and failed in one build is flaky: neither proof nor contradiction (rule 11). Merging two results does not depend on their order. */
function applyTests(db: Db, body: EventBodies['tests-reported'], atMs: number): void {
  const insert = sql(
    db,
    `INSERT INTO test_result (repository, build, suite, name, outcome, duration_ms, message, verifies)
    VALUES (@repository, @build, @suite, @name, @outcome, @durationMs, @message, @verifies)
    ON CONFLICT (repository, build, suite, name) DO UPDATE SET message = max(message, excluded.message), duration_ms = max(duration_ms, excluded.duration_ms), verifies = max(verifies, excluded.verifies),
      outcome = CASE WHEN outcome = excluded.outcome OR excluded.outcome = 'skipped' THEN outcome WHEN outcome = 'skipped' THEN excluded.outcome ELSE 'flaky' END`,
  )
  for (const result of body.results) {
    insert.run({
      ...result,
      durationMs: Number(result.durationMs),
      repository: body.repository,
      build: body.build,
      verifies: JSON.stringify(result.verifies),
    })
  }
  sql(
    db,
    `INSERT INTO build (repository, number, sha, branch, state, started_at_ms) VALUES (@repository, @build, @sha, '', 'running', @atMs) ON CONFLICT DO NOTHING`,
  ).run({ repository: body.repository, build: body.build, sha: body.sha, atMs })
  // Shards of one build add up: the counts come from all results of the build.
  sql(
    db,
    `UPDATE build SET
      passed = (SELECT count(*) FROM test_result WHERE repository = @repository AND build = @build AND outcome = 'passed'),
      failed = (SELECT count(*) FROM test_result WHERE repository = @repository AND build = @build AND outcome = 'failed'),
      skipped = (SELECT count(*) FROM test_result WHERE repository = @repository AND build = @build AND outcome = 'skipped')
    WHERE repository = @repository AND number = @build`,
  ).run({ repository: body.repository, build: body.build })
}

/** What runs in a place is the deployment with the newest start there, in whatever order the reports arrive. */
function applyDeployment(db: Db, body: EventBodies['deployment-seen'], entry: JournalEntry): void {
  sql(
    db,
    `INSERT INTO deployment (deployment_id, service, release, environment, state, asked_by, at_ms, running_at_ms)
    VALUES (@deploymentId, @service, @release, @environment, 'running', @by, @atMs, @atMs)
    ON CONFLICT (deployment_id) DO UPDATE SET state = 'running', running_at_ms = excluded.running_at_ms`,
  ).run({ ...body, by: entry.actor, atMs: entry.atMs })
  sql(
    db,
    `UPDATE deployment SET state = CASE WHEN deployment_id =
      (SELECT deployment_id FROM deployment WHERE service = @service AND environment = @environment AND running_at_ms IS NOT NULL ORDER BY running_at_ms DESC, deployment_id DESC LIMIT 1)
      THEN 'running' ELSE 'replaced' END
    WHERE service = @service AND environment = @environment AND running_at_ms IS NOT NULL`,
  ).run({ service: body.service, environment: body.environment })
}

import type { AgreementsEvents } from '@dystracer/core/agreements/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

const OF = 'project = @project AND agreement_id = @agreementId'

/** How the events of agreements stand in the tables. */
export const agreementsAppliers: Appliers<AgreementsEvents> = {
  'agreement-asked': (db, { body, actor, atMs }) => {
    sql(
      db,
      `INSERT INTO agreement (project, agreement_id, name, words, keys, people, due_on, by, at_ms)
        VALUES (@project, @agreementId, @name, @words, @keys, @people, @dueOn, @by, @atMs)`,
    ).run({ ...body, keys: JSON.stringify(body.keys), people: JSON.stringify(body.people), by: actor, atMs })
  },
  'agreement-changed': (db, { body }) => {
    sql(
      db,
      `UPDATE agreement SET name = @name, words = @words, keys = @keys, people = @people, due_on = @dueOn
        WHERE project = @project AND agreement_id = @agreementId`,
    ).run({ ...body, keys: JSON.stringify(body.keys), people: JSON.stringify(body.people) })
  },
  'requirements-agreed': (db, { body: { agreementId, verdicts, isOn }, actor, atMs }) => {
    const personId = actor.replace(/^person:/, '')
    for (const { key, revision } of verdicts)
      if (isOn)
        sql(
          db,
          `INSERT INTO agreement_verdict (agreement_id, key, person_id, revision, at_ms)
            VALUES (@agreementId, @key, @personId, @revision, @atMs)
            ON CONFLICT (agreement_id, key, person_id) DO UPDATE SET revision = excluded.revision, at_ms = excluded.at_ms`,
        ).run({ agreementId, key, personId, revision, atMs })
      else
        sql(db, 'DELETE FROM agreement_verdict WHERE agreement_id = @agreementId AND key = @key AND person_id = @personId').run({
          agreementId,
          key,
          personId,
        })
  },
  'agreement-remarked': (db, { body, actor, atMs }) => {
    const { agreementId, remarkId, key, revision, quote, text } = body
    sql(
      db,
      `INSERT INTO agreement_remark (remark_id, agreement_id, key, revision, quote, text, by, at_ms)
        VALUES (@remarkId, @agreementId, @key, @revision, @quote, @text, @by, @atMs)`,
    ).run({ agreementId, remarkId, key, revision, quote, text, by: actor, atMs })
  },
  'agreement-remark-settled': (db, { body: { remarkId, isSettled }, actor }) => {
    sql(db, 'UPDATE agreement_remark SET settled_by = @by WHERE remark_id = @remarkId').run({ remarkId, by: isSettled ? actor : null })
  },
  'agreement-ended': (db, { body: { project, agreementId, isEnded, words }, actor, atMs }) => {
    sql(db, `UPDATE agreement SET ended_words = @words, ended_by = @by, ended_at_ms = @endedAtMs WHERE ${OF}`).run({
      project,
      agreementId,
      words: isEnded ? words : null,
      by: isEnded ? actor : null,
      endedAtMs: isEnded ? atMs : null,
    })
  },
}

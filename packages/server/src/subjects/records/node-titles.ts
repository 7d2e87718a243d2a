import { type BindsOf, sql } from '#platform/db/statements'
import { splitRepositoryId, type NodeRef } from '@dystracer/core/basics/node-ref'
import type { Db } from '#platform/db/open'

/** What a thing is called in one line, for links and lists; its id when there is nothing better. */
export function titleOfNode(db: Db, ref: NodeRef): string {
  const parts = splitRepositoryId(ref.id)
  const text = <Text extends string>(query: Text, bind: BindsOf<Text>) => sql(db, query).get<{ title: string }>(bind)?.title ?? ref.id
  switch (ref.kind) {
    case 'item':
      return text('SELECT title FROM item WHERE key = @id', ref)
    case 'requirement':
      return text('SELECT title FROM requirement WHERE key = @id', ref)
    case 'fault':
      return text(`SELECT type || ': ' || message AS title FROM fault WHERE number = CAST(substr(@id, 3) AS INTEGER)`, ref)
    case 'commit':
      return text(
        `SELECT substr(message, 1, instr(message || char(10), char(10)) - 1) AS title FROM git_commit
          WHERE repository = @repository AND sha = @sha`,
        { repository: parts?.repository ?? '', sha: parts?.rest ?? '' },
      )
    case 'pull-request':
      return text('SELECT title FROM pull_request WHERE repository = @repository AND number = @number', {
        repository: parts?.repository ?? '',
        number: Number(parts?.rest ?? 0),
      })
    default:
      return parts?.rest ?? ref.id
  }
}

import type { TieDecision, UnexplainedCommit } from '@dystracer/core/ties/wire'
import { toast } from 'sonner'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { useDecideTiesMutation } from './ties.api'

/** What can be decided about commits without an item, each with its word of success. */
export function useTieDecisions() {
  const [decide, { isLoading }] = useDecideTiesMutation()
  const send = async (repository: string, decisions: TieDecision[], said: string) => {
    const result = await decide({ repository, decisions })
    if (result.error) toast.error(problemText(result.error))
    else toast.success(said)
  }
  return {
    isLoading,
    tie: ({ repository, sha }: UnexplainedCommit, key: string) =>
      send(repository, [{ what: 'tie', sha, key }], `${sha.slice(0, 7)} is for ${key}`),
    refuse: ({ repository, sha }: UnexplainedCommit, key: string) =>
      send(repository, [{ what: 'refuse', sha, key }], `${sha.slice(0, 7)} is not for ${key}; proposals learn from it`),
    needsNone: ({ repository, sha }: UnexplainedCommit) =>
      send(repository, [{ what: 'needs-none', sha }], `${sha.slice(0, 7)} needs no item`),
    /** Ties every commit whose first proposal is sure, repository by repository. */
    tieAll: async (rows: readonly UnexplainedCommit[]) => {
      for (const repository of new Set(rows.map((row) => row.repository))) {
        const decisions = rows.flatMap((row): TieDecision[] => {
          const [first] = row.proposals
          return row.repository === repository && first?.isSure ? [{ what: 'tie', sha: row.sha, key: first.key }] : []
        })
        if (decisions.length > 0) await send(repository, decisions, `${plural(decisions.length, 'commit')} of ${repository} tied`)
      }
    },
  }
}

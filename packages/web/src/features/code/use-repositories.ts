import { useState } from 'react'
import { useRepositoriesQuery } from './code.api'

const LOOK_EVERY_MS = 1_500
/** That a host cannot be reached, or can again, is no event: whoever looks at the code sees it soon all the same. */
const LOOK_CALMLY_EVERY_MS = 15_000

/** The connected repositories; asked for again and again, quickly while the history of one is being read. */
export function useRepositories() {
  const [pollingInterval, setPollingInterval] = useState(LOOK_CALMLY_EVERY_MS)
  const answer = useRepositoriesQuery(undefined, { pollingInterval, skipPollingIfUnfocused: true })
  const isReading = answer.data?.rows.some(
    (row) => row.disconnectedAtMs === null && (row.reading !== null || (row.fetchedAtMs === null && row.trouble === null)),
  )
  const wanted = isReading ? LOOK_EVERY_MS : LOOK_CALMLY_EVERY_MS
  if (wanted !== pollingInterval) setPollingInterval(wanted)
  return answer
}

/** The repositories as values that a filter completes. */
export function useKnownRepositories() {
  const { data } = useRepositoriesQuery()
  return { repository: data?.rows.map((row) => row.repository) }
}

import { useState } from 'react'
import { useRepositoriesQuery } from './code.api'

const LOOK_EVERY_MS = 1_500

/** The connected repositories; asked for again and again while the history of one is being read. */
export function useRepositories() {
  const [pollingInterval, setPollingInterval] = useState(0)
  const answer = useRepositoriesQuery(undefined, { pollingInterval })
  const isReading = answer.data?.rows.some(
    (row) => row.disconnectedAtMs === null && (row.reading !== null || (row.fetchedAtMs === null && row.trouble === null)),
  )
  const wanted = isReading ? LOOK_EVERY_MS : 0
  if (wanted !== pollingInterval) setPollingInterval(wanted)
  return answer
}

/** The repositories as values that a filter completes. */
export function useKnownRepositories() {
  const { data } = useRepositoriesQuery()
  return { repository: data?.rows.map((row) => row.repository) }
}

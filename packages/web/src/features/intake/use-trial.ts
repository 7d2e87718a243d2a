import type { Body } from '#shared/lib/api'
import { useTryIntakeRuleMutation } from './intake.api'

/** One trial at a time: the rule begins and stops it, the pane beside it shows its answer. */
const SHARED = 'trial'
let running: { abort: () => void } | null = null

/** The newest trial. One that was stopped says nothing of itself. */
export function useTrial() {
  const [send, { data, error, isLoading }] = useTryIntakeRuleMutation({ fixedCacheKey: SHARED })
  const isStopped = (error as { name?: string } | undefined)?.name === 'AbortError'
  return {
    data: isLoading ? undefined : data,
    error: isStopped ? undefined : error,
    isLoading,
    begin: (given: { project: string; body: Body<'tryIntakeRule'> }) => {
      running?.abort()
      running = send(given)
    },
    stop: () => running?.abort(),
  }
}

import type { Exploration } from '@dystracer/core/exploring/wire'
import { useEffect, useState } from 'react'
import { pageNowMs } from '#shared/lib/past'

type Clock = Pick<Exploration, 'spentMs' | 'runningSinceMs'>
const TICK_MS = 5000

/** What an exploration's clock has counted until a moment, in milliseconds. */
export function spentUntil({ spentMs, runningSinceMs }: Clock, nowMs: number): number {
  return spentMs + (runningSinceMs === null ? 0 : Math.max(0, nowMs - runningSinceMs))
}

/** What its clock shows, in whole minutes, going on while it runs. */
export function useSpentMinutes(clock: Clock): number {
  const [nowMs, setNowMs] = useState(pageNowMs)
  const isRunning = clock.runningSinceMs !== null
  useEffect(() => {
    setNowMs(pageNowMs())
    if (!isRunning) return undefined
    const timer = setInterval(() => setNowMs(pageNowMs()), TICK_MS)
    return () => clearInterval(timer)
  }, [isRunning])
  return Math.floor(spentUntil(clock, nowMs) / 60_000)
}

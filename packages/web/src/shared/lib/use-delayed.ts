import { useEffect, useState } from 'react'

/** The value, once it has stood still for a while: what follows from typing is asked for then. */
export function useDelayed<Value>(value: Value, delayMs: number): Value {
  const [settled, setSettled] = useState(value)
  // Waits on the clock.
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), delayMs)
    return () => clearTimeout(timer)
  }, [value, delayMs])
  return settled
}

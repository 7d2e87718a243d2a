import { useEffect, useRef } from 'react'
import { actionOf, type KeyAction } from '#shared/lib/keys'

/** Lets keys act at a build while nobody writes in a field. */
export function useBuildKeys(deeds: Record<KeyAction<'build'>, () => void>): void {
  const now = useRef(deeds)
  now.current = deeds
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement | null
      if (event.defaultPrevented || target?.closest('input, textarea, select, [contenteditable="true"], [role="dialog"]')) return
      const action = actionOf('build', event)
      if (action === null) return
      event.preventDefault()
      now.current[action]()
    }
    document.addEventListener('keydown', onKeyDown)
    return () => document.removeEventListener('keydown', onKeyDown)
  }, [])
}

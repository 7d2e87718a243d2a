import { momentOf } from '@dystracer/core/past/moment'

/**
 * Which moment a page looks back to: `/past/2026-10-03T12:00:00Z/items` is the list of items as it stood then. A page is about one moment
 * for as long as it lives; going to another one, or back to now, loads a new page, so that nothing of two moments is ever mixed.
 */
const found = /^\/past\/(\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ)(?=\/|$)/.exec(globalThis.location?.pathname ?? '/')

/** The moment as it stands in the address; null for now. */
export const pastAt: string | null = found?.[1] ?? null
/** What stands before every path of this page. */
export const pageRoot = pastAt === null ? '' : `/past/${pastAt}`
/** What stands before every path of the API that this page reads. */
export const apiRoot = pastAt === null ? '/api/v1' : `/api/past/${pastAt}/v1`

/** What time it is on this page: the moment that it looks back to, or now. */
export function pageNowMs(): number {
  return pastAt === null ? Date.now() : Date.parse(pastAt)
}

/** A path of the page without what stands before it. */
export function withoutPast(pathname: string): string {
  return pathname.startsWith(pageRoot) ? pathname.slice(pageRoot.length) : pathname
}

/** The address of a path of this page as of a moment; null for now. */
export function addressAt(atMs: number | null, pathname = withoutPast(window.location.pathname)): string {
  return atMs === null ? pathname || '/' : `/past/${momentOf(atMs)}${pathname}`
}

/** How far the moment of this page is made ready: entries of the journal that were read, and how many there are. */
export interface Readying {
  done: number
  total: number
}
let readying: Readying | null = null
const listeners = new Set<() => void>()

/** For `useSyncExternalStore`: null while nothing is waited for. */
export const readyingStore = {
  get: (): Readying | null => readying,
  set: (now: Readying | null): void => {
    readying = now
    for (const listener of listeners) listener()
  },
  subscribe: (listener: () => void): (() => void) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  },
}

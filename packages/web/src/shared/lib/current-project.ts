import { api } from './api'
import type { useAppDispatch } from './store'

const YEAR_S = 365 * 86_400

/** Makes a project the one that somebody works in on this machine: where what they log goes, and whose settings and names they see. */
export function workIn(prefix: string, dispatch: ReturnType<typeof useAppDispatch>): void {
  // biome-ignore lint/suspicious/noDocumentCookie: one plain word, read by the server with each request
  document.cookie = `dystracer_project=${prefix}; path=/; max-age=${YEAR_S}; samesite=lax`
  dispatch(api.util.invalidateTags(['Me', 'Views', 'Routing']))
}

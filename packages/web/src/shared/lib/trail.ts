import type { NodeRef } from '@dystracer/core/basics/node-ref'
import type { View } from '@dystracer/core/looking/wire'
import { printLook, type Look } from '@dystracer/core/looking/look'

export const PLACES = [
  'desk',
  'triage',
  'items',
  'board',
  'calendar',
  'outline',
  'faults',
  'code',
  'builds',
  'releases',
  'requirements',
  'trace',
  'inbox',
  'time',
  'settings',
  'you',
  'weeks',
  'routing',
  'choices',
  'import',
  'new-project',
  'connect',
] as const
export type Place = (typeof PLACES)[number]

/** One pane of the trail: a place (its `id` is the filter, if any) or a thing. */
export interface Segment {
  kind: string
  id: string
}

/** The trail that an address holds; an empty or unknown one begins at the desk. */
export function parseTrail(pathname: string): Segment[] {
  const segments = pathname
    .split('/')
    .filter(Boolean)
    .flatMap((part): Segment[] => {
      const tilde = part.indexOf('~')
      const id = tilde < 0 ? '' : decode(part.slice(tilde + 1).replaceAll(',', '%2F'))
      return id === null ? [] : [{ kind: tilde < 0 ? part : part.slice(0, tilde), id }]
    })
  return segments.length > 0 ? segments : [{ kind: 'desk', id: '' }]
}

function decode(text: string): string | null {
  try {
    return decodeURIComponent(text)
  } catch (error) {
    if (error instanceof URIError) return null
    throw error
  }
}

/** The address of a trail. A slash in an id is written as a comma (commas themselves are escaped). */
export function printTrail(segments: readonly Segment[]): string {
  return `/${segments.map(({ kind, id }) => (id === '' ? kind : `${kind}~${encodeURIComponent(id).replaceAll('%2F', ',')}`)).join('/')}`
}

/** The pane that shows a thing. */
export function segmentOf(ref: NodeRef): Segment {
  if (ref.kind === 'environment') return { kind: 'releases', id: '' }
  if (ref.kind === 'test') return { kind: 'requirement', id: ref.id.slice(ref.id.indexOf('/') + 1) }
  return { kind: ref.kind, id: ref.id }
}

/** The pane that shows a saved view, with all that it keeps in the address. */
export function segmentOfView({ filter, sort, columns, look: { layout, ...rest } }: View): Segment {
  return { kind: layout, id: printLook({ filter, sort, columns, ...(rest as Partial<Look>) }) }
}

const PLACE_TITLE: Record<Place, string> = {
  desk: 'Desk',
  triage: 'Triage',
  items: 'Items',
  board: 'Board',
  calendar: 'Calendar',
  outline: 'Outline',
  faults: 'Faults',
  code: 'Code',
  builds: 'Builds',
  releases: 'Releases',
  requirements: 'Requirements',
  trace: 'Trace',
  inbox: 'Inbox',
  time: 'Time',
  settings: 'Settings',
  you: 'You',
  weeks: 'Weeks of deciding',
  routing: 'Routing and duty',
  choices: 'How you are told',
  import: 'Import',
  'new-project': 'New project',
  connect: 'Connect',
}

/** What a pane is called in the trail line. */
export function titleOf({ kind, id }: Segment): string {
  const place = PLACES.find((known) => known === kind)
  if (place) return PLACE_TITLE[place]
  const rest = id.slice(id.indexOf('/') + 1)
  switch (kind) {
    case 'commit':
      return rest.slice(0, 7)
    case 'pull-request':
      return `Pull request ${rest}`
    case 'review':
      return 'its files'
    case 'build':
      // From here on a number is ours, for a build that its service calls by a name.
      return Number(rest) > 1_000_000_000 ? 'Build' : `Build ${rest}`
    case 'occurrence':
      return `Occurrence of ${id.slice(0, id.indexOf('/'))}`
    case 'rule':
      return rest === 'new' ? 'A new rule' : rest.replaceAll('-', ' ')
    case 'test-record':
      return id.slice(id.indexOf('\u001f') + 1)
    case 'baseline':
      return 'Baseline'
    case 'trial':
      return 'tried'
    case 'branch':
      return rest
    case 'thread':
      return `Thread of ${id.replace(/^\w[\w-]*:/, '')}`
    default:
      return id
  }
}

/** Least width at which each pane is of use. */
const MIN_WIDTH_PX: Record<string, number> = {
  items: 440,
  triage: 320,
  weeks: 620,
  routing: 560,
  choices: 380,
  import: 560,
  'new-project': 420,
  connect: 620,
  settings: 690,
  you: 560,
  board: 690,
  calendar: 640,
  outline: 440,
  inbox: 420,
  decision: 690,
  item: 390,
  fault: 420,
  occurrence: 420,
  thread: 640,
  trace: 250,
  requirements: 330,
  releases: 460,
  desk: 420,
  faults: 430,
  'pull-request': 420,
  review: 560,
  commit: 400,
  code: 400,
  builds: 330,
  build: 300,
  rule: 500,
  'test-record': 420,
  baseline: 480,
  trial: 440,
}
const NARROW_PX = 900

export function minWidthOf(segment: Segment): number {
  return MIN_WIDTH_PX[segment.kind] ?? 320
}

/** Index of the first pane that is on screen: as many of the newest as fit, pinned ones kept before them; one alone on a narrow window. */
export function firstOnScreen(
  segments: readonly Segment[],
  widthPx: number,
  unfoldedAt: number | null = null,
): { from: number; to: number } {
  const to = unfoldedAt === null ? segments.length : Math.min(segments.length, unfoldedAt + 1)
  if (widthPx < NARROW_PX - 150) return { from: to - 1, to }
  let from = to - 1
  let used = minWidthOf(segments[from] ?? { kind: '', id: '' })
  while (from > 0) {
    used += minWidthOf(segments[from - 1] ?? { kind: '', id: '' }) + 8
    if (used > widthPx) break
    from--
  }
  return { from, to }
}

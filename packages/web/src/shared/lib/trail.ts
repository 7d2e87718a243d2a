import type { NodeRef } from '@dystracer/core/basics/node-ref'
import type { View } from '@dystracer/core/looking/wire'
import { printLook, type Look } from '@dystracer/core/looking/look'

/** A kind of pane: what it is called in the trail line, and the least width at which it is of use. */
interface PaneKindOf {
  title: string | ((id: string) => string)
  minWidthPx: number
}

const USUAL_WIDTH_PX = 320

/** What stands behind the first slash of an id: a repository's number, hash or branch. */
const rest = (id: string): string => id.slice(id.indexOf('/') + 1)
const itself = (id: string): string => id

/** The places, which one goes to by name; `id` is their filter, if any. */
const PLACE_PANES = {
  desk: { title: 'Desk', minWidthPx: 420 },
  triage: { title: 'Triage', minWidthPx: USUAL_WIDTH_PX },
  items: { title: 'Items', minWidthPx: 440 },
  board: { title: 'Board', minWidthPx: 690 },
  calendar: { title: 'Calendar', minWidthPx: 640 },
  outline: { title: 'Outline', minWidthPx: 440 },
  faults: { title: 'Faults', minWidthPx: 430 },
  code: { title: 'Code', minWidthPx: 400 },
  builds: { title: 'Builds', minWidthPx: 330 },
  tests: { title: 'Tests', minWidthPx: 430 },
  incidents: { title: 'Incidents', minWidthPx: 430 },
  releases: { title: 'Releases', minWidthPx: 460 },
  requirements: { title: 'Requirements', minWidthPx: 330 },
  trace: { title: 'Trace', minWidthPx: 250 },
  matrix: { title: 'Matrix', minWidthPx: 720 },
  trends: { title: (id) => `Trends of ${id}`, minWidthPx: 460 },
  pinned: { title: 'Pinned', minWidthPx: 640 },
  figures: { title: 'Figures', minWidthPx: 640 },
  inbox: { title: 'Inbox', minWidthPx: 420 },
  time: { title: 'Time', minWidthPx: USUAL_WIDTH_PX },
  settings: { title: 'Settings', minWidthPx: 690 },
  you: { title: 'You', minWidthPx: 560 },
  weeks: { title: 'Weeks of deciding', minWidthPx: 620 },
  routing: { title: 'Routing and duty', minWidthPx: 560 },
  choices: { title: 'How you are told', minWidthPx: 380 },
  import: { title: 'Import', minWidthPx: 560 },
  'new-project': { title: 'New project', minWidthPx: 420 },
  connect: { title: 'Connect', minWidthPx: 620 },
} as const satisfies Record<string, PaneKindOf>

/** The things, each called by its id or what is readable of it. */
const THING_PANES = {
  item: { title: itself, minWidthPx: 390 },
  decision: { title: itself, minWidthPx: 690 },
  fault: { title: itself, minWidthPx: 420 },
  occurrence: { title: (id) => `Occurrence of ${id.slice(0, id.indexOf('/'))}`, minWidthPx: 420 },
  rule: { title: (id) => (rest(id) === 'new' ? 'A new rule' : rest(id).replaceAll('-', ' ')), minWidthPx: 500 },
  trial: { title: 'tried', minWidthPx: 440 },
  hook: { title: (id) => `Hook ${id}`, minWidthPx: 560 },
  commit: { title: (id) => rest(id).slice(0, 7), minWidthPx: 400 },
  file: { title: (id) => id.slice(id.lastIndexOf('/') + 1), minWidthPx: 520 },
  branch: { title: rest, minWidthPx: USUAL_WIDTH_PX },
  'pull-request': { title: (id) => `Pull request ${rest(id)}`, minWidthPx: 420 },
  review: { title: 'its files', minWidthPx: 560 },
  'whole-change': { title: (id) => `All of ${id}`, minWidthPx: 620 },
  // From 1,000,000,000 on a number is ours, for a build that its service calls by a name.
  build: { title: (id) => (Number(rest(id)) > 1_000_000_000 ? 'Build' : `Build ${rest(id)}`), minWidthPx: 300 },
  'build-log': { title: (id) => rest(rest(id)).replace(/#\d+(?::\d+)?$/, ''), minWidthPx: 520 },
  'test-record': { title: (id) => id.slice(id.indexOf('\u001f') + 1), minWidthPx: 420 },
  incident: { title: (id) => `Incident ${rest(id)}`, minWidthPx: 460 },
  case: { title: (id) => `Case ${rest(id)}`, minWidthPx: 420 },
  exploration: { title: 'Exploration', minWidthPx: 460 },
  'test-plan': { title: 'Test plan', minWidthPx: 460 },
  run: { title: (id) => `Case ${id.split('/')[2] ?? ''}`, minWidthPx: 420 },
  release: { title: itself, minWidthPx: USUAL_WIDTH_PX },
  train: { title: 'Train', minWidthPx: 520 },
  maintenance: { title: (id) => `${id}, mended`, minWidthPx: 520 },
  package: { title: (id) => (id === '' ? 'Packages' : id), minWidthPx: 440 },
  impact: { title: (id) => `if ${id} changes`, minWidthPx: 420 },
  requirement: { title: itself, minWidthPx: USUAL_WIDTH_PX },
  agreement: { title: 'Agreement', minWidthPx: 520 },
  baseline: { title: 'Baseline', minWidthPx: 480 },
  thread: { title: (id) => `Thread of ${id.replace(/^\w[\w-]*:/, '')}`, minWidthPx: 640 },
} as const satisfies Record<string, PaneKindOf>

/** Every kind of pane that there is, in one table. */
const PANE_KINDS = { ...PLACE_PANES, ...THING_PANES }
export type PaneKind = keyof typeof PANE_KINDS
export type Place = keyof typeof PLACE_PANES
export const PLACES = Object.keys(PLACE_PANES) as Place[]

/** Whether there is a pane of this name: what stands in an address may be anything. */
export function isPaneKind(kind: string): kind is PaneKind {
  return Object.hasOwn(PANE_KINDS, kind)
}

function paneKindOf(kind: string): PaneKindOf | null {
  return isPaneKind(kind) ? PANE_KINDS[kind] : null
}

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

/** What a pane is called in the trail line. */
export function titleOf({ kind, id }: Segment): string {
  const title = paneKindOf(kind)?.title ?? itself
  return typeof title === 'string' ? title : title(id)
}

const NARROW_PX = 900

export function minWidthOf(segment: Segment): number {
  return paneKindOf(segment.kind)?.minWidthPx ?? USUAL_WIDTH_PX
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

/** The place of keys that a pane belongs to: some lists of one place have keys of their own. */
export function keyPlaceOf(segment: Segment | undefined): string {
  if (segment?.kind === 'code' && segment.id.startsWith('unexplained')) return 'unexplained'
  if (segment?.kind === 'requirements' && (segment.id === '' || segment.id === 'read')) return 'document'
  return segment?.kind ?? 'desk'
}

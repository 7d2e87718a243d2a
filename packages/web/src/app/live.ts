import type { EventBodies, EventKind } from '@dystracer/core/contract/events'
import type { LiveMessage } from '@dystracer/core/desk/wire'
import { peopleLive } from '#features/people/people.live'
import { setupLive } from '#features/setup/setup.live'
import { recordsLive } from '#features/records/records.live'
import { codeLive } from '#features/code/code.live'
import { lookingLive, patchItems } from '#features/looking/looking.live'
import { inboxLive } from '#features/inbox/inbox.live'
import { routingLive } from '#features/routing/routing.live'
import { talkLive } from '#features/talk/talk.live'
import { handLive } from '#features/hand/hand.live'
import { incomingLive } from '#features/incoming/incoming.live'
import { ladderLive } from '#features/ladder/ladder.live'
import { requirementsLive } from '#features/requirements/requirements.live'
import { reviewsLive } from '#features/reviews/reviews.live'
import { releasesLive } from '#features/releases/releases.live'
import { itemsLive } from '#features/items/items.live'
import { faultsLive } from '#features/faults/faults.live'
import { buildsLive } from '#features/builds/builds.live'
import { buildMachinesLive } from '#features/build-machines/build-machines.live'
import { auditsLive } from '#features/audits/audits.live'
import { glossaryLive } from '#features/glossary/glossary.live'
import { agreementsLive } from '#features/agreements/agreements.live'
import { bisectingLive } from '#features/bisecting/bisecting.live'
import { trainsLive } from '#features/trains/trains.live'
import { placesLive } from '#features/places/places.live'
import { exploringLive } from '#features/exploring/exploring.live'
import { trendsLive } from '#features/trends/trends.live'
import { findingsLive } from '#features/findings/findings.live'
import { qualityLive } from '#features/quality/quality.live'
import { incidentsLive } from '#features/incidents/incidents.live'
import { casesLive } from '#features/cases/cases.live'
import { dependenciesLive } from '#features/dependencies/dependencies.live'
import { tiesLive } from '#features/ties/ties.live'
import { triageLive } from '#features/triage/triage.live'
import { undoLive } from '#features/undo/undo.live'
import { api, TAG_TYPES, type Tag } from '#shared/lib/api'
import type { Refreshes } from '#shared/lib/refreshes'
import { liveChanged, store } from '#shared/lib/store'

/** What each event that the journal knows makes stale; one without an answer does not compile. */
const REFRESHES: Refreshes<EventBodies> = {
  ...peopleLive,
  ...setupLive,
  ...recordsLive,
  ...codeLive,
  ...lookingLive,
  ...inboxLive,
  ...routingLive,
  ...talkLive,
  ...handLive,
  ...incomingLive,
  ...ladderLive,
  ...requirementsLive,
  ...reviewsLive,
  ...releasesLive,
  ...itemsLive,
  ...faultsLive,
  ...buildsLive,
  ...casesLive,
  ...buildMachinesLive,
  ...exploringLive,
  ...agreementsLive,
  ...bisectingLive,
  ...trainsLive,
  ...placesLive,
  ...glossaryLive,
  ...auditsLive,
  ...trendsLive,
  ...findingsLive,
  ...qualityLive,
  ...incidentsLive,
  ...dependenciesLive,
  ...tiesLive,
  ...triageLive,
  ...undoLive,
}

/** Which cached answers an event may have changed, by the kind of its subjects. */
const TAGS_BY_SUBJECT: Record<string, Tag[]> = {
  fault: ['Fault'],
  branch: ['Code'],
  repository: ['Code'],
  'pull-request': ['Code'],
  commit: [],
  build: ['Build', 'Code'],
  release: ['Release'],
  environment: ['Release'],
  requirement: ['Requirement'],
}
/** Events of one write come together: what they make stale is fetched once. */
const GATHER_MS = 60
/**
 * A first event shows at once; those that follow it this closely show together, and in a flood (an import, a bulk change) a few times a
 * second.
 */
const PATCH_MS = 30
const FLOOD_PATCH_MS = 300
const FLOOD = 20
/** A stream that was refused is asked for again after so long. */
const AGAIN_MS = 15_000

/**
 * Follows the live stream: patches the rows of items at once, and fetches anew what else changed, several events in one go. Gives the
 * function that ends it.
 */
export function followLive(): () => void {
  let waiting = new Set<string>()
  let timer: ReturnType<typeof setTimeout> | undefined
  let patchTimer: ReturnType<typeof setTimeout> | undefined
  let pending: LiveMessage[] = []
  let stream: EventSource | undefined
  let againTimer: ReturnType<typeof setTimeout> | undefined
  let lastHad = ''
  const flush = () => {
    timer = undefined
    const tags = [...waiting].map((tag) => JSON.parse(tag) as Tag)
    waiting = new Set()
    store.dispatch(api.util.invalidateTags(tags))
  }
  const note = (tag: Tag) => {
    waiting.add(JSON.stringify(tag))
    timer ??= setTimeout(flush, GATHER_MS)
  }
  const patch = () => {
    patchTimer = undefined
    if (pending.length === 0) return
    const messages = pending
    pending = []
    const { hasLeftGroup } = patchItems(messages)
    if (hasLeftGroup) note('Items')
    for (const message of messages) for (const tag of staleTags(message)) note(tag)
    patchTimer = setTimeout(patch, messages.length > FLOOD ? FLOOD_PATCH_MS : PATCH_MS)
  }
  const follow = () => {
    const opened = new EventSource(lastHad === '' ? '/api/v1/live' : `/api/v1/live?cursor=${lastHad}`)
    stream = opened
    opened.addEventListener('open', () => store.dispatch(liveChanged('live')))
    opened.addEventListener('error', () => {
      store.dispatch(liveChanged('lost'))
      // One that broke off is made again by the browser itself; one that was refused, as by a proxy while the server starts, is not.
      if (opened.readyState === EventSource.CLOSED) againTimer = setTimeout(follow, AGAIN_MS)
    })
    opened.addEventListener('reset', () => store.dispatch(api.util.invalidateTags([...TAG_TYPES])))
    for (const kind of ['hello', 'message'])
      opened.addEventListener(kind, ({ lastEventId }: MessageEvent<string>) => {
        if (lastEventId !== '') lastHad = lastEventId
      })
    opened.addEventListener('message', (event: MessageEvent<string>) => {
      pending.push(JSON.parse(event.data) as LiveMessage)
      if (patchTimer === undefined) patch()
    })
  }
  follow()
  return () => {
    clearTimeout(timer)
    clearTimeout(patchTimer)
    clearTimeout(againTimer)
    stream?.close()
  }
}

/** Which cached answers a message makes stale. */
function staleTags({ kind, item, subjects }: LiveMessage): Tag[] {
  const isMine = subjects.some((subject) => subject.startsWith('person:'))
  const { always = [], mine = [], item: ofItem = [] } = REFRESHES[kind as EventKind] ?? {}
  return [
    // A link concerns both of its ends.
    ...subjects.flatMap((subject): Tag[] => (subject.startsWith('item:') ? [{ type: 'Item', id: subject.slice(5) }] : [])),
    ...(item ? (['Thread', 'Overview', ...ofItem] as const) : []),
    ...subjects.flatMap((subject) => TAGS_BY_SUBJECT[subject.slice(0, subject.indexOf(':'))] ?? []),
    ...always,
    ...(isMine ? mine : []),
    ...(subjects.some((subject) => subject.startsWith('project:')) ? (['Me', 'Routing', 'Views'] as const) : []),
  ]
}

import type { EventBodies, EventKind } from '@dystracer/core/contract/events'
import type { HistoryEntry } from '@dystracer/core/records/wire'
import { peopleWords } from '#features/people/people.words'
import { setupWords } from '#features/setup/setup.words'
import { recordsWords } from '#features/records/records.words'
import { codeWords } from '#features/code/code.words'
import { lookingWords } from '#features/looking/looking.words'
import { inboxWords } from '#features/inbox/inbox.words'
import { routingWords } from '#features/routing/routing.words'
import { talkWords } from '#features/talk/talk.words'
import { handWords } from '#features/hand/hand.words'
import { incomingWords } from '#features/incoming/incoming.words'
import { ladderWords } from '#features/ladder/ladder.words'
import { requirementsWords } from '#features/requirements/requirements.words'
import { reviewsWords } from '#features/reviews/reviews.words'
import { releasesWords } from '#features/releases/releases.words'
import { itemsWords } from '#features/items/items.words'
import { faultsWords } from '#features/faults/faults.words'
import { buildsWords } from '#features/builds/builds.words'
import { buildMachinesWords } from '#features/build-machines/build-machines.words'
import { auditsWords } from '#features/audits/audits.words'
import { glossaryWords } from '#features/glossary/glossary.words'
import { agreementsWords } from '#features/agreements/agreements.words'
import { bisectingWords } from '#features/bisecting/bisecting.words'
import { trainsWords } from '#features/trains/trains.words'
import { placesWords } from '#features/places/places.words'
import { exploringWords } from '#features/exploring/exploring.words'
import { trendsWords } from '#features/trends/trends.words'
import { findingsWords } from '#features/findings/findings.words'
import { qualityWords } from '#features/quality/quality.words'
import { incidentsWords } from '#features/incidents/incidents.words'
import { casesWords } from '#features/cases/cases.words'
import { dependenciesWords } from '#features/dependencies/dependencies.words'
import { tiesWords } from '#features/ties/ties.words'
import { triageWords } from '#features/triage/triage.words'
import { undoWords } from '#features/undo/undo.words'
import type { EventWords, NameOf } from '#shared/lib/event-words'

/** The words of every event that the journal knows: one without words does not compile. */
const WORDS: EventWords<EventBodies> = {
  ...peopleWords,
  ...setupWords,
  ...recordsWords,
  ...codeWords,
  ...lookingWords,
  ...inboxWords,
  ...routingWords,
  ...talkWords,
  ...handWords,
  ...incomingWords,
  ...ladderWords,
  ...requirementsWords,
  ...reviewsWords,
  ...releasesWords,
  ...itemsWords,
  ...faultsWords,
  ...buildsWords,
  ...casesWords,
  ...buildMachinesWords,
  ...exploringWords,
  ...agreementsWords,
  ...bisectingWords,
  ...trainsWords,
  ...placesWords,
  ...glossaryWords,
  ...auditsWords,
  ...trendsWords,
  ...findingsWords,
  ...qualityWords,
  ...incidentsWords,
  ...dependenciesWords,
  ...tiesWords,
  ...triageWords,
  ...undoWords,
}

/** A journal entry in words, without who did it. One of a newer server than this page is told by its name. */
export function historyText({ kind, facts }: Pick<HistoryEntry, 'kind' | 'facts'>, nameOf: NameOf): string {
  const words = WORDS[kind as EventKind] as ((told: HistoryEntry['facts'], nameOf: NameOf) => string) | undefined
  return words?.(facts, nameOf) ?? kind.replaceAll('-', ' ')
}

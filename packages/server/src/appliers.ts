import { peopleAppliers } from '#subjects/people/people.apply'
import { setupAppliers } from '#subjects/setup/setup.apply'
import { recordsAppliers } from '#subjects/records/records.apply'
import { codeAppliers } from '#subjects/code/code.apply'
import { lookingAppliers } from '#subjects/looking/looking.apply'
import { inboxAppliers } from '#subjects/inbox/inbox.apply'
import { routingAppliers } from '#subjects/routing/routing.apply'
import { talkAppliers } from '#subjects/talk/talk.apply'
import { handAppliers } from '#subjects/hand/hand.apply'
import { incomingAppliers } from '#subjects/incoming/incoming.apply'
import { ladderAppliers } from '#subjects/ladder/ladder.apply'
import { requirementsAppliers } from '#subjects/requirements/requirements.apply'
import { releasesAppliers } from '#subjects/releases/releases.apply'
import { reviewsAppliers } from '#subjects/reviews/reviews.apply'
import { itemsAppliers } from '#subjects/items/items.apply'
import { faultsAppliers } from '#subjects/faults/faults.apply'
import { buildsAppliers } from '#subjects/builds/builds.apply'
import { tiesAppliers } from '#subjects/ties/ties.apply'
import { casesAppliers } from '#subjects/cases/cases.apply'
import { dependenciesAppliers } from '#subjects/dependencies/dependencies.apply'
import { bisectingAppliers } from '#subjects/bisecting/bisecting.apply'
import { buildMachinesAppliers } from '#subjects/build-machines/build-machines.apply'
import { auditsAppliers } from '#subjects/audits/audits.apply'
import { glossaryAppliers } from '#subjects/glossary/glossary.apply'
import { agreementsAppliers } from '#subjects/agreements/agreements.apply'
import { trainsAppliers } from '#subjects/trains/trains.apply'
import { placesAppliers } from '#subjects/places/places.apply'
import { exploringAppliers } from '#subjects/exploring/exploring.apply'
import { trendsAppliers } from '#subjects/trends/trends.apply'
import { findingsAppliers } from '#subjects/findings/findings.apply'
import { qualityAppliers } from '#subjects/quality/quality.apply'
import { incidentsAppliers } from '#subjects/incidents/incidents.apply'
import { triageAppliers } from '#subjects/triage/triage.apply'
import { undoAppliers } from '#subjects/undo/undo.apply'
import type { AllAppliers } from '#platform/journal/journal'

/** Every event's way into the tables; a kind that no subject takes does not compile. */
export const appliers: AllAppliers = {
  ...peopleAppliers,
  ...setupAppliers,
  ...recordsAppliers,
  ...codeAppliers,
  ...lookingAppliers,
  ...inboxAppliers,
  ...routingAppliers,
  ...talkAppliers,
  ...handAppliers,
  ...incomingAppliers,
  ...ladderAppliers,
  ...requirementsAppliers,
  ...releasesAppliers,
  ...reviewsAppliers,
  ...itemsAppliers,
  ...faultsAppliers,
  ...buildsAppliers,
  ...tiesAppliers,
  ...casesAppliers,
  ...buildMachinesAppliers,
  ...bisectingAppliers,
  ...exploringAppliers,
  ...agreementsAppliers,
  ...trainsAppliers,
  ...placesAppliers,
  ...glossaryAppliers,
  ...auditsAppliers,
  ...trendsAppliers,
  ...findingsAppliers,
  ...qualityAppliers,
  ...incidentsAppliers,
  ...dependenciesAppliers,
  ...triageAppliers,
  ...undoAppliers,
}

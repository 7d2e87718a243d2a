import { addLiveRoute } from '#subjects/desk/live.routes'
import { addPeopleRoutes } from '#subjects/people/people.routes'
import { addSetupRoutes } from '#subjects/setup/setup.routes'
import { addProjectsRoutes } from '#subjects/projects/projects.routes'
import { addReviewsRoutes } from '#subjects/reviews/reviews.routes'
import { addCodeRoutes } from '#subjects/code/code.routes'
import { addLikenessRoutes } from '#subjects/likeness/likeness.routes'
import { addLookingRoutes } from '#subjects/looking/looking.routes'
import { addInboxRoutes } from '#subjects/inbox/inbox.routes'
import { addRoutingRoutes } from '#subjects/routing/routing.routes'
import { addTalkRoutes } from '#subjects/talk/talk.routes'
import { addHandRoutes } from '#subjects/hand/hand.routes'
import { addExchangeRoutes } from '#subjects/requirements/exchange.routes'
import { addRequirementsRoutes } from '#subjects/requirements/requirements.routes'
import { addReleasesRoutes } from '#subjects/releases/releases.routes'
import { addItemsRoutes } from '#subjects/items/items.routes'
import { addFaultsRoutes } from '#subjects/faults/faults.routes'
import { addIntakeRuleRoutes } from '#subjects/intake/intake.routes'
import { addBuildFilesRoutes } from '#subjects/build-files/build-files.routes'
import { addBuildLogsRoutes } from '#subjects/build-logs/build-logs.routes'
import { addBuildMachinesRoutes } from '#subjects/build-machines/build-machines.routes'
import { addBuildsRoutes } from '#subjects/builds/builds.routes'
import { addFilesRoutes } from '#subjects/files/files.routes'
import { addWholeChangeRoutes } from '#subjects/whole-change/whole-change.routes'
import { addTiesRoutes } from '#subjects/ties/ties.routes'
import { addExploringRoutes } from '#subjects/exploring/exploring.routes'
import { addMaintenanceRoutes } from '#subjects/maintenance/maintenance.routes'
import { addAuditsRoutes } from '#subjects/audits/audits.routes'
import { addGlossaryRoutes } from '#subjects/glossary/glossary.routes'
import { addAgreementsRoutes } from '#subjects/agreements/agreements.routes'
import { addBisectingRoutes } from '#subjects/bisecting/bisecting.routes'
import { addTrainsRoutes } from '#subjects/trains/trains.routes'
import { addPlacesRoutes } from '#subjects/places/places.routes'
import { addMergingRoutes } from '#subjects/merging/merging.routes'
import { addTrendsRoutes } from '#subjects/trends/trends.routes'
import { addFindingsRoutes } from '#subjects/findings/findings.routes'
import { addQualityRoutes } from '#subjects/quality/quality.routes'
import { addTriageRoutes } from '#subjects/triage/triage.routes'
import { addIncomingRoutes } from '#subjects/incoming/incoming.routes'
import { addImportsRoutes } from '#subjects/imports/imports.routes'
import { addIncidentsRoutes } from '#subjects/incidents/incidents.routes'
import { addCasesRoutes } from '#subjects/cases/cases.routes'
import { addDependenciesRoutes } from '#subjects/dependencies/dependencies.routes'
import { addThreadsRoutes } from '#subjects/threads/threads.routes'
import { addPastRoutes } from '#subjects/past/past.routes'
import { addDeskRoutes } from '#subjects/desk/desk.routes'
import { addUndoRoutes } from '#subjects/undo/undo.routes'
import type { IntakeParts } from '#subjects/incoming/intake.routes'
import type { Api } from '#platform/http/api'

/** Joins every operation to its handler. */
export function addRoutes(api: Api, intake: IntakeParts): void {
  addPeopleRoutes(api)
  addSetupRoutes(api)
  addProjectsRoutes(api, intake)
  addCodeRoutes(api)
  addReviewsRoutes(api, intake)
  addLikenessRoutes(api)
  addLookingRoutes(api)
  addInboxRoutes(api)
  addRoutingRoutes(api)
  addTalkRoutes(api)
  addHandRoutes(api)
  addRequirementsRoutes(api)
  addExchangeRoutes(api)
  addReleasesRoutes(api)
  addItemsRoutes(api)
  addFaultsRoutes(api)
  addIntakeRuleRoutes(api)
  addBuildsRoutes(api)
  addBuildLogsRoutes(api)
  addBuildFilesRoutes(api)
  addBuildMachinesRoutes(api, intake)
  addFilesRoutes(api)
  addWholeChangeRoutes(api)
  addTiesRoutes(api)
  addExploringRoutes(api)
  addMaintenanceRoutes(api, intake)
  addAgreementsRoutes(api)
  addBisectingRoutes(api)
  addTrainsRoutes(api)
  addPlacesRoutes(api)
  addMergingRoutes(api)
  addGlossaryRoutes(api)
  addAuditsRoutes(api)
  addTrendsRoutes(api)
  addFindingsRoutes(api)
  addQualityRoutes(api)
  addTriageRoutes(api)
  addIncomingRoutes(api, intake)
  addImportsRoutes(api)
  addCasesRoutes(api)
  addIncidentsRoutes(api)
  addDependenciesRoutes(api)
  addThreadsRoutes(api)
  addDeskRoutes(api)
  addUndoRoutes(api)
  addPastRoutes(api)
  addLiveRoute(api)
}

import type { Operation, OutsidePath } from '#people/operation'
import { healthOperations } from '#desk/health-wire'
import { auditOperations } from '#people/audit-wire'
import { secondFactorOperations } from '#people/second-factor-wire'
import { tokenOperations } from '#people/token-wire'
import { peopleOperations } from '#people/wire'
import { setupOperations } from '#setup/wire'
import { projectsOperations } from '#projects/wire'
import { codeOperations } from '#code/wire'
import { reviewsOperations } from '#reviews/wire'
import { likenessOperations } from '#likeness/wire'
import { lookingOperations, lookingPaths } from '#looking/wire'
import { inboxOperations } from '#inbox/wire'
import { routingOperations } from '#routing/wire'
import { talkOperations } from '#talk/wire'
import { handOperations } from '#hand/wire'
import { baselinesOperations } from '#requirements/baselines-wire'
import { gapsOperations } from '#requirements/gaps-wire'
import { exchangeOperations } from '#requirements/exchange-wire'
import { writingOperations } from '#requirements/writing-wire'
import { requirementsOperations } from '#requirements/wire'
import { releaseContentsOperations, releasesPaths } from '#releases/contents-wire'
import { deliveryOperations } from '#releases/delivery-wire'
import { releasesOperations } from '#releases/wire'
import { itemsOperations } from '#items/wire'
import { intakeOperations } from '#faults/intake-wire'
import { servicesOperations } from '#faults/services-wire'
import { filesOperations } from '#files/wire'
import { tiesOperations } from '#ties/wire'
import { faultsOperations } from '#faults/wire'
import { buildFilesOperations, buildFilesPaths } from '#build-files/wire'
import { buildLogsOperations, buildLogsPaths } from '#build-logs/wire'
import { buildMachinesOperations, buildMachinesPaths } from '#build-machines/wire'
import { buildsOperations, buildsPaths } from '#builds/wire'
import { auditsOperations } from '#audits/wire'
import { glossaryOperations } from '#glossary/wire'
import { agreementsOperations } from '#agreements/wire'
import { trainsOperations } from '#trains/wire'
import { placesOperations } from '#places/wire'
import { mergingOperations } from '#merging/wire'
import { bisectingOperations } from '#bisecting/wire'
import { wholeChangeOperations } from '#whole-change/wire'
import { exploringOperations } from '#exploring/wire'
import { pastOperations } from '#past/wire'
import { maintenanceOperations } from '#maintenance/wire'
import { trendsOperations } from '#trends/wire'
import { findingsOperations } from '#findings/wire'
import { qualityOperations } from '#quality/wire'
import { triageOperations } from '#triage/wire'
import { hookOperations, incomingOperations, incomingPaths, webhookOperations } from '#incoming/wire'
import { importsOperations } from '#imports/wire'
import { impactOperations } from '#threads/impact-wire'
import { auditReportOperations } from '#threads/audit-wire'
import { matrixOperations } from '#threads/matrix-wire'
import { incidentsOperations } from '#incidents/wire'
import { casesOperations } from '#cases/wire'
import { dependenciesOperations } from '#dependencies/wire'
import { threadsOperations } from '#threads/wire'
import { deskOperations } from '#desk/wire'
import { undoOperations } from '#undo/wire'

/** Everything that can be asked of the server, by name: what is not in this table does not exist. */
export const OPERATIONS = {
  ...peopleOperations,
  ...tokenOperations,
  ...auditOperations,
  ...secondFactorOperations,
  ...healthOperations,
  ...setupOperations,
  ...projectsOperations,
  ...codeOperations,
  ...reviewsOperations,
  ...likenessOperations,
  ...lookingOperations,
  ...inboxOperations,
  ...routingOperations,
  ...talkOperations,
  ...handOperations,
  ...requirementsOperations,
  ...exchangeOperations,
  ...writingOperations,
  ...gapsOperations,
  ...baselinesOperations,
  ...releasesOperations,
  ...deliveryOperations,
  ...releaseContentsOperations,
  ...itemsOperations,
  ...faultsOperations,
  ...filesOperations,
  ...tiesOperations,
  ...servicesOperations,
  ...intakeOperations,
  ...buildsOperations,
  ...buildLogsOperations,
  ...buildFilesOperations,
  ...buildMachinesOperations,
  ...casesOperations,
  ...incidentsOperations,
  ...dependenciesOperations,
  ...exploringOperations,
  ...agreementsOperations,
  ...trainsOperations,
  ...placesOperations,
  ...mergingOperations,
  ...bisectingOperations,
  ...wholeChangeOperations,
  ...glossaryOperations,
  ...auditsOperations,
  ...pastOperations,
  ...maintenanceOperations,
  ...trendsOperations,
  ...findingsOperations,
  ...qualityOperations,
  ...triageOperations,
  ...incomingOperations,
  ...webhookOperations,
  ...hookOperations,
  ...importsOperations,
  ...threadsOperations,
  ...auditReportOperations,
  ...matrixOperations,
  ...impactOperations,
  ...deskOperations,
  ...undoOperations,
} satisfies Record<string, Operation>
/** Everything that others send or fetch outside the API's root, in their own protocols. */
export const OUTSIDE_PATHS = {
  ...incomingPaths,
  ...lookingPaths,
  ...releasesPaths,
  ...buildsPaths,
  ...buildLogsPaths,
  ...buildFilesPaths,
  ...buildMachinesPaths,
} satisfies Record<string, OutsidePath>
/** The name of an operation in the table; routes, the OpenAPI text and the client are made from it. */
export type OperationName = keyof typeof OPERATIONS

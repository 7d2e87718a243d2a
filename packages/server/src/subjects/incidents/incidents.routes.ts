import { Problem } from '@dystracer/core/basics/problem'
import { incidentsOperations } from '@dystracer/core/incidents/wire'
import type { Api } from '#platform/http/api'
import { changeIncident, endIncident, noteIncident, openIncident, removeNote, tieItem } from './incidents.commands.js'
import { listIncidents, readIncident } from './incidents.views.js'

export function addIncidentsRoutes(api: Api): void {
  const of = ({ project, number }: { project: string; number: string }) => ({ project, number: numberOf(number) })
  api.handle(incidentsOperations.listIncidents, ({ ctx, who, params, query }) => listIncidents(ctx, who, params.project, query))
  api.handle(incidentsOperations.openIncident, ({ ctx, who, params, body }) =>
    readIncident(ctx, who, params.project, openIncident(ctx, who, params.project, body)),
  )
  api.handle(incidentsOperations.readIncident, ({ ctx, who, params }) => readIncident(ctx, who, params.project, numberOf(params.number)))
  api.handle(incidentsOperations.changeIncident, ({ ctx, who, params, body }) => {
    changeIncident(ctx, who, params.project, numberOf(params.number), body)
    return readIncident(ctx, who, params.project, numberOf(params.number))
  })
  api.handle(incidentsOperations.noteIncident, ({ ctx, who, params, body }) => {
    noteIncident(ctx, who, of(params), body)
    return readIncident(ctx, who, params.project, numberOf(params.number))
  })
  api.handle(incidentsOperations.removeIncidentNote, ({ ctx, who, params }) => {
    removeNote(ctx, who, of(params), params.note)
    return {}
  })
  api.handle(incidentsOperations.endIncident, ({ ctx, who, params, body }) => {
    endIncident(ctx, who, of(params), body.overAtMs)
    return readIncident(ctx, who, params.project, numberOf(params.number))
  })
  api.handle(incidentsOperations.tieIncidentItem, ({ ctx, who, params, body }) => {
    tieItem(ctx, who, of(params), params.key, body.role)
    return readIncident(ctx, who, params.project, numberOf(params.number))
  })
}

function numberOf(text: string): number {
  const number = Number(text)
  if (!Number.isSafeInteger(number) || number < 1) throw new Problem('not-found', { detail: `${text} is no number of an incident.` })
  return number
}

import { exploringOperations } from '@dystracer/core/exploring/wire'
import type { Api } from '#platform/http/api'
import { beginExploration, changeExploration, endExploration, note, removeNote, setClock, setPoint } from './exploring.commands.js'
import { explorationAsMarkdown, listExplorations, readExploration } from './exploring.views.js'

export function addExploringRoutes(api: Api): void {
  api.handle(exploringOperations.listExplorations, ({ ctx, params }) => ({ rows: listExplorations(ctx, params.project) }))
  api.handle(exploringOperations.readExploration, ({ ctx, who, params }) => readExploration(ctx, who, params.project, params.explorationId))
  api.handle(exploringOperations.exportExploration, ({ ctx, who, params, koa }) => {
    koa.set({ 'content-type': 'text/markdown; charset=utf-8', 'content-disposition': 'attachment; filename="exploration.md"' })
    koa.body = explorationAsMarkdown(ctx, who, params.project, params.explorationId)
  })
  api.handle(exploringOperations.beginExploration, ({ ctx, who, params, body }) =>
    readExploration(ctx, who, params.project, beginExploration(ctx, who, params.project, body)),
  )
  api.handle(exploringOperations.changeExploration, ({ ctx, who, params, body }) => {
    changeExploration(ctx, who, params, body)
    return readExploration(ctx, who, params.project, params.explorationId)
  })
  api.handle(exploringOperations.setExplorationPoint, ({ ctx, who, params, body }) => {
    setPoint(ctx, who, params, body)
    return readExploration(ctx, who, params.project, params.explorationId)
  })
  api.handle(exploringOperations.setExplorationClock, ({ ctx, who, params, body }) => {
    setClock(ctx, who, params, body.isRunning)
    return readExploration(ctx, who, params.project, params.explorationId)
  })
  api.handle(exploringOperations.noteInExploration, ({ ctx, who, params, body }) => {
    note(ctx, who, params, body)
    return readExploration(ctx, who, params.project, params.explorationId)
  })
  api.handle(exploringOperations.removeExplorationNote, ({ ctx, who, params: { noteId, ...of } }) => {
    removeNote(ctx, who, of, noteId)
    return readExploration(ctx, who, of.project, of.explorationId)
  })
  api.handle(exploringOperations.endExploration, ({ ctx, who, params, body }) => {
    endExploration(ctx, who, params, body)
    return readExploration(ctx, who, params.project, params.explorationId)
  })
}

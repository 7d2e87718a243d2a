import { glossaryOperations } from '@dystracer/core/glossary/wire'
import type { Api } from '#platform/http/api'
import { listTerms, removeTerm, setTerm } from './glossary.commands.js'

export function addGlossaryRoutes(api: Api): void {
  api.handle(glossaryOperations.listTerms, ({ ctx, params }) => ({ rows: listTerms(ctx, params.project) }))
  api.handle(glossaryOperations.setTerm, ({ ctx, who, params, body }) => {
    setTerm(ctx, who, params.project, body)
    return { rows: listTerms(ctx, params.project) }
  })
  api.handle(glossaryOperations.removeTerm, ({ ctx, who, params, query }) => {
    removeTerm(ctx, who, params.project, query.term)
    return { rows: listTerms(ctx, params.project) }
  })
}

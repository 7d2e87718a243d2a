import { wholeChangeOperations } from '@dystracer/core/whole-change/wire'
import type { Api } from '#platform/http/api'
import { readWholeChange } from './whole-change.views.js'

export function addWholeChangeRoutes(api: Api): void {
  api.handle(wholeChangeOperations.readWholeChange, ({ ctx, who, params }) => readWholeChange(ctx, who, params.key))
}

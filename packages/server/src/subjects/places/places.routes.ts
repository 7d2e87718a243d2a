import { placesOperations as operations } from '@dystracer/core/places/wire'
import type { Api } from '#platform/http/api'
import { listPlaceGates } from './place-gates.js'
import { setPlaceGates } from './places.commands.js'

export function addPlacesRoutes(api: Api): void {
  api.handle(operations.listPlaceGates, ({ ctx }) => listPlaceGates(ctx))
  api.handle(operations.setPlaceGates, ({ ctx, who, params, body }) => {
    setPlaceGates(ctx, who, params.environment, body.gates)
    return listPlaceGates(ctx)
  })
}

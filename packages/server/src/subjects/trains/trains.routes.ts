import { trainsOperations as operations } from '@dystracer/core/trains/wire'
import type { Api } from '#platform/http/api'
import { callTrainOff, changeTrain, makeTrainReleases, planTrain, sendTrain } from './trains.commands.js'
import { listTrains, readTrain } from './trains.views.js'

export function addTrainsRoutes(api: Api): void {
  api.handle(operations.listTrains, ({ ctx, params }) => ({ rows: listTrains(ctx, params.project) }))
  api.handle(operations.readTrain, ({ ctx, who, params }) => readTrain(ctx, who, params.project, params.trainId))
  api.handle(operations.planTrain, ({ ctx, who, params, body }) =>
    readTrain(ctx, who, params.project, planTrain(ctx, who, params.project, body)),
  )
  api.handle(operations.changeTrain, ({ ctx, who, params, body }) => {
    changeTrain(ctx, who, params, body)
    return readTrain(ctx, who, params.project, params.trainId)
  })
  api.handle(operations.callTrainOff, ({ ctx, who, params, body }) => {
    callTrainOff(ctx, who, params, body)
    return readTrain(ctx, who, params.project, params.trainId)
  })
  api.handle(operations.makeTrainReleases, ({ ctx, who, params }) => makeTrainReleases(ctx, who, params))
  api.handle(operations.sendTrain, ({ ctx, who, params, body }) => sendTrain(ctx, who, params, body))
}

import { operation } from '#people/operation'
import { z } from 'zod'
import { zPlaceGate } from './gates.js'

const zRow = z.object({ environment: z.string(), gates: z.array(zPlaceGate) })
const answer = z.object({ rows: z.array(zRow) })

/** What can be asked of what has to hold before a release may come to a place. */
export const placesOperations = {
  listPlaceGates: operation({
    method: 'get',
    path: '/environments/gates',
    summary: 'What has to hold before a release may come to each environment',
    may: 'member-of-any',
    about: 'nothing',
    answer,
  }),
  setPlaceGates: operation({
    method: 'put',
    path: '/environments/:environment/gates',
    summary: 'Say what has to hold before a release may come to an environment',
    may: 'environments.set-up',
    about: 'nothing',
    body: z.strictObject({ gates: z.array(zPlaceGate).max(30) }),
    answer,
  }),
}

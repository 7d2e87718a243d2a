import { buildPast } from '#platform/past/past-db'
import type { PastMethods } from '#platform/past/past.protocol'
import { serveCalls } from '#platform/threads/serve-calls'
import { appliers } from './appliers.js'

serveCalls({
  build: (input: PastMethods['build']['input'], tell) => buildPast(input, appliers, tell),
})

import { sendEvent } from '../events.js'
import { serverSettings } from '../server.js'
import type { Surroundings } from '../surroundings.js'

/** Says that a release of a service runs in an environment now. Throws a `Refusal`. */
export async function deployed(
  { service, release, environment }: { service: string; release: string; environment: string },
  options: { url?: string; token?: string },
  { env, say }: Surroundings,
): Promise<void> {
  await sendEvent(serverSettings(options, env), {
    type: 'dev.cdevents.service.deployed.0.2.0',
    source: '/dys',
    subjectId: service,
    content: { environment: { id: environment }, artifactId: `pkg:generic/${encodeURIComponent(service)}@${encodeURIComponent(release)}` },
    customData: { service, release, environment },
  })
  say(`${service} ${release} runs in ${environment}.`)
}

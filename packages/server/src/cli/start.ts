import { buildContext } from '#context'
import type { Config } from '#platform/config/config'
import { startServer } from '#server'
import { firstAdminSecret } from '#subjects/people/accounts.commands'

/** Starts the server on a real data folder; until somebody can sign in, each start prints the sign-up link of the first administrator. */
export async function start(config: Config, say: (line: string) => void): Promise<() => Promise<void>> {
  const owned = buildContext(config)
  const server = await startServer(owned)
  const secret = firstAdminSecret(owned.ctx)
  const address = `${config.tls === null ? 'http' : 'https'}://${config.host}:${config.port}`
  if (secret) say(`Make the first administrator at ${address}/sign-up/${secret}`)
  say(`Dystracer is ready at ${address}`)
  return server.stop
}

import { randomUUID } from 'node:crypto'
import { Refusal } from '../refusal.js'
import { apiOf, serverSettings, toRefusal } from '../server.js'
import type { Surroundings } from '../surroundings.js'

/** What `dys log` is told on its command line. */
export interface LogOptions {
  url?: string
  token?: string
  project?: string
  type: string
  severity?: string
  component?: string
  label: string[]
  text?: string
  requirement?: string
  parent?: string
  /** The service whose newest fault is meant. */
  fromLastError?: string
}

/** Logs an item and says its key and its address. `--text -` reads the description from what is piped in. Throws a `Refusal`. */
export async function log(title: string | undefined, options: LogOptions, { env, say, readInput }: Surroundings): Promise<void> {
  if (options.fromLastError !== undefined) return logLastError(title, options.fromLastError, { options, env, say })
  if (title === undefined) throw new Refusal('Say what it is about: dys log "TITLE".', { exitCode: 2 })
  const severity = options.severity === undefined ? null : Number(options.severity)
  if (severity !== null && !(Number.isInteger(severity) && severity >= 1 && severity <= 5))
    throw new Refusal(`--severity is 1 (the worst) to 5, not "${options.severity}".`, { exitCode: 2 })
  const server = serverSettings(options, env)
  try {
    const item = await apiOf(server, randomUUID()).logItem({
      body: {
        title,
        type: options.type,
        labels: options.label,
        description: options.text === '-' ? readInput() : (options.text ?? ''),
        ...(options.project !== undefined && { project: options.project }),
        ...(severity !== null && { severity }),
        ...(options.component !== undefined && { component: options.component }),
        ...(options.requirement !== undefined && { requirement: options.requirement }),
        ...(options.parent !== undefined && { parent: options.parent }),
      },
    })
    say(`${item.key} ${server.address}/items/${item.key}`)
  } catch (error) {
    throw toRefusal(error)
  }
}

/** Logs an item for the fault that a service sent last, and says its key; where one stands for it, says that. Throws a `Refusal`. */
async function logLastError(
  title: string | undefined,
  service: string,
  { options, env, say }: { options: LogOptions } & Pick<Surroundings, 'env' | 'say'>,
): Promise<void> {
  const server = serverSettings(options, env)
  try {
    const api = apiOf(server, randomUUID())
    const { rows } = await api.listFaults({ query: { service, sort: 'last', state: 'any', limit: 1 } })
    const [newest] = rows
    if (!newest) throw new Refusal(`${service} has sent no error yet.`, { exitCode: 1 })
    const item = newest.item ?? (await api.logFault({ params: { fault: newest.fault }, body: title === undefined ? {} : { title } }))
    say(`${item.key} ${server.address}/items/${item.key}`)
  } catch (error) {
    throw toRefusal(error)
  }
}

import { Agent, request } from 'node:http'
import { performance } from 'node:perf_hooks'
import { parentPort, workerData } from 'node:worker_threads'

export interface SenderData {
  url: string
  headers: Record<string, string>
  /** One record; `@number@` stands where each differs, `@fault@` where faults do. */
  template: string
  count: number
  perSecond: number
}

/**
 * Sends single records at a steady rate from a thread of its own, so that the server's thread is the server's; tells its parent how long
 * each answer took.
 */
const { url, headers, template, count, perSecond } = workerData as SenderData
/** So many different faults. */
const FAULTS = 30
/** As many connections as a fleet of programs would have. */
const agent = new Agent({ keepAlive: true, maxSockets: 64 })
const tookMs: number[] = []
let refused = 0
const pending = new Set<Promise<void>>()
const startedMs = performance.now()
for (let sent = 0; sent < count; ) {
  const due = Math.min(count, Math.floor(((performance.now() - startedMs) / 1000) * perSecond))
  for (; sent < due; sent++) {
    const askedMs = performance.now()
    const work = post(template.replaceAll('@number@', String(sent).padStart(7, '0')).replaceAll('@fault@', String(sent % FAULTS))).then(
      (status) => {
        if (status === 200) tookMs.push(performance.now() - askedMs)
        else refused++
      },
    )
    pending.add(work)
    void work.finally(() => pending.delete(work))
  }
  await new Promise((resolve) => setTimeout(resolve, 2))
}
await Promise.all(pending)
agent.destroy()
parentPort?.postMessage({ tookMs, refused })

function post(body: string): Promise<number> {
  return new Promise((resolve, reject) => {
    const sending = request(url, { method: 'POST', agent, headers }, (response) => {
      response.resume()
      response.on('end', () => resolve(response.statusCode ?? 0))
    })
    sending.on('error', reject)
    sending.end(body)
  })
}

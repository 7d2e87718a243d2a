import { lookup } from 'node:dns/promises'
import { isIP } from 'node:net'
import { isOpenNet } from '#platform/net/open-net'
import { GitError } from './run-git.js'

/** What holds git, and the ssh that it may start, to the place that was checked. */
export interface Held {
  settings: string[]
  /** Options of ssh, as `Name=value`. */
  ssh: string[]
}
/** Gives what holds git to the place of an address; throws GitError for one that must not be reached from here. */
export type Reach = (url: string) => Promise<Held>
type Lookup = (host: string) => Promise<{ address: string; family: number }[]>

/**
 * Which addresses git may be sent to: those of the open net, and hosts that the operator names. A name is resolved here, once; git is then
 * held to that very address and follows no redirect, so that neither a second answer of the name's server nor the remote itself
 * leads it anywhere else. Paths are checked where they are connected.
 */
export function makeReach(allowedHosts: readonly string[], resolve: Lookup = (host) => lookup(host, { all: true })): Reach {
  const allowed = new Set(allowedHosts.map((host) => host.toLowerCase()))
  return async (url) => {
    const { protocol, host, port } = hostOf(url)
    if (protocol === 'file') return { settings: [], ssh: [] }
    const settings = ['-c', 'http.followRedirects=false']
    if (allowed.has(host)) return { settings, ssh: [] }
    const found = isIP(host) ? [{ address: host }] : await resolve(host).catch(() => [])
    const [first] = found
    if (!first) throw refusal(`there is no host called ${host}`)
    const inside = found.find(({ address }) => !isOpenNet(address))
    if (inside)
      throw refusal(
        `${host} is ${inside.address === host ? 'an address' : `at ${inside.address},`} inside this machine's own network; ` +
          `whoever runs the server can allow the host by DYSTRACER_ALLOWED_HOSTS`,
      )
    const at = port || { http: '80', https: '443', git: '9418' }[protocol] || ''
    if (protocol === 'ssh') return { settings, ssh: [`HostName=${first.address}`, `HostKeyAlias=${host}`] }
    return { settings: [...settings, '-c', `http.curloptResolve=${host}:${at}:${first.address}`], ssh: [] }
  }
}

/** Protocol, host and port of an address as git takes it; `name@host:path` is by ssh. */
export function hostOf(url: string): { protocol: string; host: string; port: string } {
  const short = /^(?:[\w.-]+@)?([\w.-]+):(?!\/\/)/.exec(url)
  if (short) return { protocol: 'ssh', host: (short[1] ?? '').toLowerCase(), port: '' }
  const { protocol, hostname, port } = new URL(url)
  return { protocol: protocol.slice(0, -1), host: hostname.replace(/^\[|\]$/g, '').toLowerCase(), port }
}

function refusal(why: string): GitError {
  return new GitError(['connect'], null, why)
}

import { lookup as resolve, type LookupAddress, type LookupOptions } from 'node:dns'
import { get as getPlain, type IncomingMessage } from 'node:http'
import { get as getSecure } from 'node:https'
import { isIP } from 'node:net'
import { OutsideError } from '../outside-error.js'
import { isOpenNet } from './open-net.js'

const TIMEOUT_MS = 30_000
const REDIRECTS_MAX = 3

/** A file of an address, as it streams in, and what it is called there. */
export interface Fetched {
  body: IncomingMessage
  name: string
}

type Found = (error: NodeJS.ErrnoException | null, address: string | LookupAddress[], family?: number) => void

/**
 * Fetches what somebody else wrote the address of: only from the open net or from hosts that the operator
 * names, checked at the very address that is then connected to, also after each of three redirects at most;
 * without cookies, names or tokens of ours. Throws OutsideError in words. The caller reads the body, and bounds it.
 */
export async function fetchOpen(address: string, { allowedHosts }: { allowedHosts: readonly string[] }): Promise<Fetched> {
  let url = urlOf(address)
  for (let hops = 0; hops <= REDIRECTS_MAX; hops++) {
    const answer = await getOnce(url, allowedHosts)
    const status = answer.statusCode ?? 0
    if (status >= 300 && status < 400 && answer.headers.location) {
      answer.destroy()
      url = urlOf(new URL(answer.headers.location, url).href)
      continue
    }
    if (status !== 200) {
      answer.destroy()
      throw new OutsideError(`${url.host} answered ${status}`)
    }
    return { body: answer, name: nameOf(url, answer.headers['content-disposition']) }
  }
  throw new OutsideError(`${url.host} leads on and on`)
}

function urlOf(text: string): URL {
  const url = URL.canParse(text) ? new URL(text) : null
  if (!url || !/^https?:$/.test(url.protocol)) throw new OutsideError('it is no address by http or https')
  if (url.username !== '' || url.password !== '') throw new OutsideError('it has a name and password in it')
  return url
}

function getOnce(url: URL, allowedHosts: readonly string[]): Promise<IncomingMessage> {
  const host = url.hostname.replace(/^\[|\]$/g, '').toLowerCase()
  const isAllowed = allowedHosts.some((allowed) => allowed.toLowerCase() === host)
  if (!isAllowed && isIP(host) !== 0 && !isOpenNet(host)) return Promise.reject(insideError(host))
  const lookup = (name: string, options: LookupOptions, found: Found) =>
    resolve(name, options, (error: NodeJS.ErrnoException | null, addresses: string | LookupAddress[], family?: number) => {
      const list = typeof addresses === 'string' ? [{ address: addresses }] : (addresses ?? [])
      const inside = isAllowed ? undefined : list.find((one) => !isOpenNet(one.address))
      if (error === null && inside) found(insideError(name), addresses, family)
      else found(error, addresses, family)
    })
  return new Promise((done, failed) => {
    const get = url.protocol === 'https:' ? getSecure : getPlain
    const request = get(url, { lookup, timeout: TIMEOUT_MS, headers: { 'user-agent': 'Dystracer', accept: '*/*' } }, done)
    request.on('timeout', () => request.destroy(new OutsideError(`${url.host} did not answer in ${TIMEOUT_MS / 1000} seconds`)))
    request.on('error', (error) =>
      failed(
        error instanceof OutsideError ? error : new OutsideError(`${url.host} could not be reached: ${error.message}`, { cause: error }),
      ),
    )
  })
}

function insideError(host: string): OutsideError {
  return new OutsideError(`${host} is inside the server's own network; whoever runs it can allow the host by DYSTRACER_ALLOWED_HOSTS`)
}

/** What a file is called: by the answer's own word (RFC 6266), else by the end of the path. */
function nameOf(url: URL, disposition: string | undefined): string {
  const said = /filename\*=UTF-8''([^;]+)/i.exec(disposition ?? '')?.[1] ?? /filename="?([^";]+)"?/i.exec(disposition ?? '')?.[1]
  const last = said ?? url.pathname.split('/').at(-1) ?? ''
  try {
    return decodeURIComponent(last) || 'file'
  } catch (error) {
    if (error instanceof URIError) return last || 'file'
    throw error
  }
}

import { OutsideError } from './outside-error.js'

const TIMEOUT_MS = 15_000

/** Where an outside service answers, and what proves to it that we may ask. */
export interface Outside {
  baseUrl: string
  token: string | null
}

/**
 * Asks an outside service over its small HTTP interface: JSON there and back, a POST where there is a body. Throws OutsideError with what
 * it answered, or that it did not.
 */
export async function askOutside({ baseUrl, token }: Outside, path: string, body?: unknown): Promise<unknown> {
  try {
    const response = await fetch(new URL(path, baseUrl), {
      signal: AbortSignal.timeout(TIMEOUT_MS),
      redirect: 'error',
      headers: {
        ...(body !== undefined && { 'content-type': 'application/json' }),
        ...(token !== null && { authorization: `Bearer ${token}` }),
      },
      ...(body !== undefined && { method: 'POST', body: JSON.stringify(body) }),
    })
    const text = await response.text()
    if (!response.ok) throw new OutsideError(`${path} answered ${response.status}: ${text.slice(0, 200)}`, response)
    return text === '' ? null : JSON.parse(text)
  } catch (error) {
    if (error instanceof OutsideError) throw error
    throw new OutsideError(`${path} did not answer: ${error instanceof Error ? error.message : String(error)}`, { cause: error })
  }
}

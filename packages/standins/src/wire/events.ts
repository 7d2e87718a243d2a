import { randomUUID } from 'node:crypto'
import { Webhook } from 'standardwebhooks'

export interface EventSender {
  /** Sends a CDEvents message in a CloudEvent, signed as Standard Webhooks say; tries again a few times. */
  send(type: string, subjectId: string, customData: object): Promise<void>
}

const TRIES = 5

/** Sends what happens outside to Dystracer over the wire. `isMuted` drops events, as a lost webhook would. */
export function makeEventSender(input: { serverUrl: string; secret: string; isMuted: () => boolean }): EventSender {
  const webhook = new Webhook(input.secret)
  return {
    send: async (type, subjectId, customData) => {
      if (input.isMuted()) return
      const id = randomUUID()
      const timestamp = new Date().toISOString()
      const source = '/stand-ins'
      const body = JSON.stringify({
        specversion: '1.0',
        id,
        source,
        type,
        time: timestamp,
        datacontenttype: 'application/json',
        data: {
          context: { version: '0.4.1', id, source, type, timestamp },
          subject: { id: subjectId, source, type: type.split('.')[2], content: {} },
          customData,
          customDataContentType: 'application/json',
        },
      })
      await withTries(() => {
        const sentAt = new Date()
        return fetch(`${input.serverUrl}/receive/cloudevents`, {
          method: 'POST',
          body,
          headers: {
            'content-type': 'application/cloudevents+json',
            'webhook-id': id,
            'webhook-timestamp': String(Math.floor(sentAt.getTime() / 1000)),
            'webhook-signature': webhook.sign(id, sentAt, body),
          },
        })
      })
    },
  }
}

async function withTries(send: () => Promise<Response>): Promise<void> {
  for (let attempt = 1; ; attempt++) {
    try {
      const response = await send()
      if (response.ok) return
      if (response.status < 500 && response.status !== 429) {
        console.error(`Dystracer refused an event (${response.status}): ${(await response.text()).slice(0, 300)}`)
        return
      }
    } catch (error) {
      if (attempt >= TRIES) {
        console.error(`an event was not taken: ${error instanceof Error ? error.message : String(error)}`)
        return
      }
    }
    if (attempt >= TRIES) return
    await new Promise((resolve) => setTimeout(resolve, 200 * 2 ** attempt))
  }
}

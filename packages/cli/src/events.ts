import { randomUUID } from 'node:crypto'
import { send, type ServerSettings } from './server.js'

/** What an event of CDEvents says; `customData` adds what the open specification has no place for. */
export interface Told {
  type: string
  source: string
  subjectId: string
  content: object
  customData?: object
}

/** Sends one event of CDEvents (0.4) in a CloudEvent. Its id is made once, so that sending it again changes nothing. */
export async function sendEvent(server: ServerSettings, { type, source, subjectId, content, customData }: Told): Promise<void> {
  const timestamp = new Date().toISOString()
  const id = randomUUID()
  const data = {
    context: { version: '0.4.1', id, source, type, timestamp },
    subject: { id: subjectId, source, content },
    ...(customData && { customData }),
  }
  const event = { specversion: '1.0', id, source, type, time: timestamp, subject: subjectId, datacontenttype: 'application/json', data }
  await send(server, { path: '/receive/cloudevents', contentType: 'application/cloudevents+json', body: JSON.stringify(event) })
}

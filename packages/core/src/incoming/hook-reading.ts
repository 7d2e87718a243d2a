import pointer from 'jsonpointer'
import { z } from 'zod'
import type { CdEvent } from './cd-event.js'

/** What a message of a program can tell, and what it has to say of that; the rest may be left unsaid. */
export const HOOK_EVENTS = {
  push: { needs: ['repository'], may: ['by'] },
  'pull-request': {
    needs: ['repository', 'number', 'state'],
    may: ['title', 'text', 'author', 'branch', 'target', 'commit', 'merge', 'opened', 'changed'],
  },
  'build-started': { needs: ['repository', 'build'], may: ['commit', 'branch', 'at'] },
  'build-finished': { needs: ['repository', 'build', 'outcome'], may: ['commit', 'branch', 'at'] },
  deployment: { needs: ['service', 'release', 'environment'], may: ['by', 'at'] },
  incident: { needs: ['service', 'incident', 'title'], may: ['text', 'environment', 'at'] },
  'incident-over': { needs: ['service', 'incident'], may: ['text', 'at'] },
} as const satisfies Record<string, { needs: readonly string[]; may: readonly string[] }>
/** What a message can tell. */
export type HookEvent = keyof typeof HOOK_EVENTS
/** What an event is told by. */
export type HookField = (typeof HOOK_EVENTS)[HookEvent]['needs' | 'may'][number]
const FIELDS = [...new Set(Object.values(HOOK_EVENTS).flatMap(({ needs, may }): HookField[] => [...needs, ...may]))]

/** A place in a message: a JSON Pointer (RFC 6901), such as `/pull_request/head/sha`. */
export const zPointer = z
  .string()
  .max(500)
  .regex(/^(?:\/(?:[^~]|~[01])*)*$/, 'A place such as /build/number: each step after a slash')
/**
 * Where a field's value comes from: a place in the message or a text that is always the same; `words` says what a word of the sender's
 * means here.
 */
export const zHookValue = z.strictObject({
  at: zPointer.default(''),
  text: z.string().max(500).default(''),
  words: z
    .array(z.strictObject({ from: z.string().max(100), to: z.string().max(100) }))
    .max(30)
    .default([]),
})
/** A condition on a message: a place holds a word (whatever its letters), does not, or is there at all. */
export const zHookCondition = z.strictObject({
  at: zPointer,
  is: z.enum(['same', 'other', 'there']),
  text: z.string().max(500).default(''),
})
/** How messages of one shape are read: which of them, what they tell, and where each field stands. */
export const zHookReading = z.strictObject({
  name: z.string().trim().min(1, 'A name is needed').max(60),
  when: z.array(zHookCondition).max(10).default([]),
  tells: z.enum(Object.keys(HOOK_EVENTS) as [HookEvent, ...HookEvent[]]),
  fields: z.partialRecord(z.enum(FIELDS as [HookField, ...HookField[]]), zHookValue).default({}),
})
export type HookReading = z.output<typeof zHookReading>
export type HookValue = z.output<typeof zHookValue>

/** What a message says by the first reading that is about it. */
export type HookRead =
  | { kind: 'event'; reading: string; tells: HookEvent; values: Partial<Record<HookField, string>>; event: CdEvent }
  | { kind: 'lacks'; reading: string; tells: HookEvent; values: Partial<Record<HookField, string>>; lacks: HookField[] }
  | { kind: 'none' }

/**
 * Reads a message of any shape by the first reading whose conditions it meets. O(conditions and fields of the readings); nothing of the
 * message is carried out, and a place leads to own values of plain objects and lists alone.
 * @param of the hook's id as the sender, the message's own id and the time when it came, for what it does not say itself
 */
export function readHookMessage(
  message: unknown,
  readings: readonly HookReading[],
  of: { source: string; id: string; atMs: number },
): HookRead {
  const reading = readings.find(({ when }) => when.every((condition) => meets(message, condition)))
  if (!reading) return { kind: 'none' }
  const { needs, may } = HOOK_EVENTS[reading.tells]
  const values: Partial<Record<HookField, string>> = {}
  for (const field of [...needs, ...may]) {
    const value = valueIn(message, reading.fields[field])
    if (value !== '') values[field] = value
  }
  const lacks = needs.filter((field) => values[field] === undefined)
  const told = { reading: reading.name, tells: reading.tells, values }
  if (lacks.length > 0) return { kind: 'lacks', ...told, lacks }
  return { kind: 'event', ...told, event: eventOf(reading.tells, values, of) }
}

/** What stands at a place of a message, as text; empty for what is not there, and for what is an object or a list. */
export function textAt(message: unknown, at: string): string {
  if (typeof message !== 'object' || message === null || at === '') return ''
  const found: unknown = isOwnPath(message, at) ? pointer.get(message, at) : undefined
  return typeof found === 'string' || typeof found === 'number' || typeof found === 'boolean' ? String(found).slice(0, 100_000) : ''
}

/** Whether each step leads to an own value: `constructor` and its like stand in every object, and are in no message. */
function isOwnPath(message: object, at: string): boolean {
  let here: unknown = message
  for (const step of at.split('/').slice(1)) {
    const name = step.replaceAll('~1', '/').replaceAll('~0', '~')
    if (typeof here !== 'object' || here === null || !Object.hasOwn(here, name)) return false
    // A list has places, and its length is none of them.
    if (Array.isArray(here) && !/^\d+$/.test(name)) return false
    here = (here as Record<string, unknown>)[name]
  }
  return true
}

function meets(message: unknown, { at, is, text }: HookReading['when'][number]): boolean {
  const found = textAt(message, at)
  if (is === 'there') return found !== ''
  return (found.toLowerCase() === text.toLowerCase()) === (is === 'same')
}

function valueIn(message: unknown, value: HookValue | undefined): string {
  if (value === undefined) return ''
  const found = textAt(message, value.at) || value.text
  return value.words.find(({ from }) => from.toLowerCase() === found.toLowerCase())?.to ?? found
}

/** Every place of a message that holds a word, a number or yes or no, in its order; at most `most`. */
export function placesOf(message: unknown, most = 500): { at: string; text: string }[] {
  const found: { at: string; text: string }[] = []
  const open: { at: string; value: unknown }[] = [{ at: '', value: message }]
  while (open.length > 0 && found.length < most) {
    const { at, value } = open.pop() as { at: string; value: unknown }
    if (typeof value === 'object' && value !== null) {
      const inner = Object.entries(value).map(([name, each]) => ({
        at: `${at}/${name.replaceAll('~', '~0').replaceAll('/', '~1')}`,
        value: each,
      }))
      open.push(...inner.reverse())
    } else if (at !== '' && value !== null && value !== undefined) found.push({ at, text: String(value) })
  }
  return found
}

const STATE_OF: Record<string, 'open' | 'merged' | 'closed'> = {
  open: 'open',
  opened: 'open',
  reopened: 'open',
  merged: 'merged',
  closed: 'closed',
  declined: 'closed',
  abandoned: 'closed',
}
const CDEVENT: Record<HookEvent, string> = {
  push: 'repository.modified',
  'pull-request': 'change.updated',
  'build-started': 'pipelinerun.started',
  'build-finished': 'pipelinerun.finished',
  deployment: 'service.deployed',
  incident: 'incident.detected',
  'incident-over': 'incident.resolved',
}

/** The same as an event of the open specification, with what that does not carry in additions of ours. */
function eventOf(
  tells: HookEvent,
  values: Partial<Record<HookField, string>>,
  { source, id, atMs }: { source: string; id: string; atMs: number },
): CdEvent {
  const when = timeOf(values.at) ?? timeOf(values.changed) ?? atMs
  const subjectId =
    values.incident ??
    values.build ??
    (values.number ? `${values.repository}/${values.number}` : (values.repository ?? values.service ?? id))
  const state = STATE_OF[(values.state ?? '').toLowerCase()]
  const predicate = tells === 'pull-request' && state !== 'open' ? `change.${state === 'merged' ? 'merged' : 'abandoned'}` : CDEVENT[tells]
  return {
    context: { id, source, type: `dev.cdevents.${predicate}.0.2.0`, timestamp: new Date(when).toISOString(), chainId: undefined },
    subject: {
      id: subjectId.slice(0, 500),
      source: undefined,
      content: {
        ...(values.outcome !== undefined && { outcome: values.outcome }),
        ...(tells.startsWith('incident') && { description: [values.title, values.text].filter(Boolean).join('\n\n') }),
        ...(values.environment !== undefined && { environment: { id: values.environment } }),
      },
    },
    customData: tells === 'pull-request' ? changeOf(values, when) : additionsOf(values),
  }
}

function additionsOf(values: Partial<Record<HookField, string>>): object {
  const { repository, build, outcome, commit, branch, service, release, environment, by } = values
  return { repository, build, outcome, commit: commit?.toLowerCase(), branch: shortBranch(branch), service, release, environment, by }
}

/** A pull request as far as it is told; told whole it needs no more than that. */
function changeOf(values: Partial<Record<HookField, string>>, when: number): object {
  const { repository, number, title, text = '', author = '', branch, target, commit, merge, opened } = values
  return {
    repository,
    number: Number(number),
    title,
    body: text,
    state: STATE_OF[(values.state ?? '').toLowerCase()],
    author,
    head: shortBranch(branch),
    base: shortBranch(target),
    headSha: commit?.toLowerCase(),
    mergeSha: merge?.toLowerCase() ?? null,
    createdAtMs: timeOf(opened) ?? when,
    updatedAtMs: when,
    version: when,
  }
}

/** A branch as it is called, also where it is told as git's full name of it. */
function shortBranch(name: string | undefined): string | undefined {
  return name?.replace(/^refs\/heads\//, '')
}

/** A time as a date in words of ISO 8601, or as seconds or milliseconds since 1970; null for what is none. */
function timeOf(text: string | undefined): number | null {
  if (text === undefined) return null
  const ms = /^\d{9,11}$/.test(text) ? Number(text) * 1000 : /^\d{12,14}$/.test(text) ? Number(text) : Date.parse(text)
  return Number.isFinite(ms) ? ms : null
}

/**
 * By what a program shows that a message is its own: Standard Webhooks, a keyed hash over the body
 * (HMAC with SHA-256), or the secret itself in a header.
 */
export const HOOK_PROOFS = ['standard-webhooks', 'hmac-sha256', 'secret-in-header'] as const
/** How a hook's messages are proven, and the header that holds the proof where it has no name of its own. */
export const zHookProof = z.strictObject({
  kind: z.enum(HOOK_PROOFS),
  header: z
    .string()
    .trim()
    .max(60)
    .regex(/^[A-Za-z0-9-]*$/, 'The name of a header: letters, digits and hyphens')
    .default(''),
})
/** Up to twenty readings, tried in their order. */
export const zHookReadings = z.array(zHookReading).max(20)

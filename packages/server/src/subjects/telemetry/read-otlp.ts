import { otlpMessages } from './otlp-schema.js'

export type Signal = 'logs' | 'traces'
export type AttributeValue = string | number | boolean | null | AttributeValue[] | { [key: string]: AttributeValue }
export type Attributes = Record<string, AttributeValue>

/** One log record or one span event, in one shape for both signals and both encodings. `atMs` is null when the sender gave no time. */
export interface OtlpRecord {
  resource: Attributes
  attributes: Attributes
  atMs: number | null
  /** The same to the nanosecond, as text: what tells a retry from another occurrence in the same millisecond. */
  atNanos: string
  severityNumber: number
  body: string
  traceId: string | null
  /** Whether it is a unit of work (a span or a plain log record) that shows the service being used. */
  isActivity: boolean
  /** Where it stands in its trace; of all but spans `id` is the span in which it was written. */
  span: { kind: 'span' | 'log'; id: string | null; parentId: string | null; endMs: number | null }
}

/** The body is not what its content type says; the reason may be shown to the sender. */
export class OtlpFormatError extends Error {}

/** Values may nest this deep and no deeper. */
const DEPTH_MAX = 16
const RECORDS_MAX = 50_000

type Loose = { [key: string]: unknown }

/** All records of an export request. Throws OtlpFormatError when the bytes are not such a request. Linear in the body. */
export function readOtlp(signal: Signal, encoding: 'json' | 'protobuf', body: Uint8Array): OtlpRecord[] {
  const request = encoding === 'json' ? parseJson(body) : parseProtobuf(signal, body)
  const groups = list(request[signal === 'logs' ? 'resourceLogs' : 'resourceSpans'], signal === 'logs' ? 'resourceLogs' : 'resourceSpans')
  const records: OtlpRecord[] = []
  for (const group of groups) {
    const resource = readAttributes(record(group.resource).attributes)
    for (const scope of list(group[signal === 'logs' ? 'scopeLogs' : 'scopeSpans'], 'scopes')) {
      for (const entry of list(scope[signal === 'logs' ? 'logRecords' : 'spans'], 'records')) {
        if (signal === 'logs') records.push(readLog(resource, entry))
        else readSpan(resource, entry, records)
        if (records.length > RECORDS_MAX) throw new OtlpFormatError(`more than ${RECORDS_MAX} records in one request`)
      }
    }
  }
  return records
}

function readLog(resource: Attributes, log: Loose): OtlpRecord {
  const attributes = readAttributes(log.attributes)
  return {
    resource,
    attributes,
    atMs: nanosToMs(log.timeUnixNano) ?? nanosToMs(log.observedTimeUnixNano),
    atNanos: String(nanosOf(log.timeUnixNano) ?? nanosOf(log.observedTimeUnixNano) ?? ''),
    severityNumber: Number(log.severityNumber ?? 0) || 0,
    body: textOf(readValue(log.body, 0)),
    traceId: hex(log.traceId),
    isActivity: !('exception.type' in attributes || 'exception.stacktrace' in attributes),
    span: { kind: 'log', id: hex(log.spanId), parentId: null, endMs: null },
  }
}

function readSpan(resource: Attributes, span: Loose, into: OtlpRecord[]): void {
  const traceId = hex(span.traceId)
  const common = { resource, traceId, severityNumber: 17 }
  into.push({
    ...common,
    attributes: readAttributes(span.attributes),
    atMs: nanosToMs(span.startTimeUnixNano),
    atNanos: String(nanosOf(span.startTimeUnixNano) ?? ''),
    body: String(span.name ?? ''),
    isActivity: true,
    span: { kind: 'span', id: hex(span.spanId), parentId: hex(span.parentSpanId), endMs: nanosToMs(span.endTimeUnixNano) },
  })
  for (const event of list(span.events, 'events')) {
    if (event.name !== 'exception') continue
    into.push({
      ...common,
      attributes: readAttributes(event.attributes),
      atMs: nanosToMs(event.timeUnixNano),
      atNanos: String(nanosOf(event.timeUnixNano) ?? ''),
      body: '',
      isActivity: false,
      span: { kind: 'log', id: hex(span.spanId), parentId: null, endMs: null },
    })
  }
}

function parseJson(body: Uint8Array): Loose {
  try {
    return record(JSON.parse(Buffer.from(body.buffer, body.byteOffset, body.byteLength).toString('utf8')), true)
  } catch (error) {
    if (error instanceof SyntaxError) throw new OtlpFormatError('the body is not JSON')
    throw error
  }
}

function parseProtobuf(signal: Signal, body: Uint8Array): Loose {
  try {
    return otlpMessages[signal].decode(body) as unknown as Loose
  } catch (error) {
    throw new OtlpFormatError('the body is not a protobuf message of this path', { cause: error })
  }
}

function record(value: unknown, isRequired = false): Loose {
  if (typeof value === 'object' && value !== null && !Array.isArray(value)) return value as Loose
  if (isRequired || (value !== undefined && value !== null)) throw new OtlpFormatError('an object was expected')
  return {}
}

function list(value: unknown, name: string): Loose[] {
  if (value === undefined || value === null) return []
  if (!Array.isArray(value)) throw new OtlpFormatError(`${name} must be a list`)
  return value.map((entry) => record(entry, true))
}

function readAttributes(value: unknown): Attributes {
  const attributes: Attributes = {}
  for (const pair of list(value, 'attributes')) {
    if (typeof pair.key === 'string' && pair.key !== '__proto__') attributes[pair.key] = readValue(pair.value, 0)
  }
  return attributes
}

function readValue(value: unknown, depth: number): AttributeValue {
  if (value === undefined || value === null) return null
  const any = record(value, true)
  if (depth > DEPTH_MAX) throw new OtlpFormatError('values nest too deep')
  if (typeof any.stringValue === 'string' && (any.stringValue !== '' || any.value !== 'intValue')) return any.stringValue
  if (typeof any.boolValue === 'boolean') return any.boolValue
  if (any.intValue !== undefined && any.intValue !== null) return Number(String(any.intValue))
  if (typeof any.doubleValue === 'number') return any.doubleValue
  if (any.arrayValue) return list(record(any.arrayValue).values, 'values').map((entry) => readValue(entry, depth + 1))
  if (any.kvlistValue) {
    return Object.fromEntries(
      list(record(any.kvlistValue).values, 'values')
        .filter((pair) => pair.key !== '__proto__')
        .map((pair) => [String(pair.key), readValue(pair.value, depth + 1)]),
    )
  }
  if (any.bytesValue instanceof Uint8Array) return Buffer.from(any.bytesValue).toString('base64')
  return typeof any.bytesValue === 'string' ? any.bytesValue : null
}

function textOf(value: AttributeValue): string {
  return typeof value === 'string' ? value : value === null ? '' : JSON.stringify(value)
}

/**
 * Nanoseconds as a JSON string or number, or a 64-bit protobuf integer; zero means "not given". They do not fit a double exactly, so they
 * are never made one.
 */
function nanosOf(value: unknown): bigint | null {
  const nanos =
    typeof value === 'string' && /^\d{1,20}$/.test(value)
      ? BigInt(value)
      : typeof value === 'number' && Number.isFinite(value) && value > 0
        ? BigInt(Math.trunc(value))
        : typeof value === 'object' && value !== null && 'low' in value && 'high' in value
          ? (BigInt(Number(value.high) >>> 0) << 32n) | BigInt(Number(value.low) >>> 0)
          : null
  return nanos === null || nanos <= 0n ? null : nanos
}

function nanosToMs(value: unknown): number | null {
  const nanos = nanosOf(value)
  return nanos === null ? null : Number(nanos / 1_000_000n)
}

function hex(value: unknown): string | null {
  if (value instanceof Uint8Array) return value.length > 0 ? Buffer.from(value).toString('hex') : null
  return typeof value === 'string' && /^[0-9a-fA-F]{1,64}$/.test(value) ? value.toLowerCase() : null
}

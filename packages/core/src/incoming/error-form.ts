import { SEVERITY_LEVELS, type SeverityName } from '#basics/severity-levels'
import { z } from 'zod'

const TEXT_MAX = 20_000
const STACK_MAX = 200_000
const name = z.string().trim().min(1).max(200)
const zValue = z.union([z.string().max(TEXT_MAX), z.number(), z.boolean()])

const zError = z.strictObject({
  /** What a programmer calls it: `TypeError`. */
  type: z.string().trim().max(300).default('Error'),
  message: z.string().trim().min(1, 'What went wrong?').max(TEXT_MAX),
  /** As the runtime prints it; without one, type and message tell errors apart. */
  stacktrace: z.string().max(STACK_MAX).default(''),
  severity: z.enum(Object.keys(SEVERITY_LEVELS) as [SeverityName, ...SeverityName[]]).default('error'),
  /** When it happened (RFC 3339); left out, when it is received. */
  at: z.iso.datetime({ offset: true }).optional(),
  /** Whom it hit: any stable name; it is kept as another name that leads nowhere. */
  person: z.string().max(300).optional(),
  attributes: z.record(z.string().min(1).max(200), zValue).default({}),
})

/** Errors of one program, for programs without an SDK. */
export const zErrorReport = z.strictObject({
  service: name,
  release: z.string().trim().max(200).default(''),
  environment: z.string().trim().max(100).default('production'),
  errors: z.array(zError).min(1, 'No error is in it').max(1000, 'At most 1,000 errors at once'),
})
/** Errors of one program with nothing left open. */
export type ErrorReport = z.output<typeof zErrorReport>

type Value = z.output<typeof zValue>
function attribute(key: string, value: Value): object {
  const of = typeof value === 'string' ? 'stringValue' : typeof value === 'boolean' ? 'boolValue' : 'doubleValue'
  return { key, value: { [of]: value } }
}

/**
 * The same as an OTLP request of log records (JSON encoding), by OpenTelemetry's semantic conventions for
 * exceptions: errors go the way that telemetry goes, and are scrubbed, grouped and limited like it. One
 * without a time happened when it was received. Two errors of one report are told apart in time by a
 * nanosecond, so that a report that is sent again counts once.
 */
export function toOtlpLogs({ service, release, environment, errors }: ErrorReport, receivedAtMs: number): object {
  const resource = [attribute('service.name', service), attribute('deployment.environment.name', environment)]
  if (release !== '') resource.push(attribute('service.version', release))
  return {
    resourceLogs: [
      {
        resource: { attributes: resource },
        scopeLogs: [
          {
            logRecords: errors.map(({ type, message, stacktrace, severity, at, person, attributes }, position) => ({
              timeUnixNano: String(BigInt(at === undefined ? receivedAtMs : Date.parse(at)) * 1_000_000n + BigInt(position)),
              severityNumber: SEVERITY_LEVELS[severity],
              body: { stringValue: message },
              attributes: [
                ...Object.entries(attributes).map(([key, value]) => attribute(key, value)),
                attribute('exception.type', type),
                attribute('exception.message', message),
                ...(stacktrace === '' ? [] : [attribute('exception.stacktrace', stacktrace)]),
                ...(person === undefined ? [] : [attribute('user.id', person)]),
              ],
            })),
          },
        ],
      },
    ],
  }
}

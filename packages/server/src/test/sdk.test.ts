import { SeverityNumber } from '@opentelemetry/api-logs'
import { CompressionAlgorithm } from '@opentelemetry/otlp-exporter-base'
import { OTLPLogExporter as JsonLogs } from '@opentelemetry/exporter-logs-otlp-http'
import { OTLPLogExporter as ProtoLogs } from '@opentelemetry/exporter-logs-otlp-proto'
import { OTLPTraceExporter as JsonTraces } from '@opentelemetry/exporter-trace-otlp-http'
import { OTLPTraceExporter as ProtoTraces } from '@opentelemetry/exporter-trace-otlp-proto'
import { resourceFromAttributes } from '@opentelemetry/resources'
import { LoggerProvider, SimpleLogRecordProcessor } from '@opentelemetry/sdk-logs'
import { BasicTracerProvider, SimpleSpanProcessor } from '@opentelemetry/sdk-trace-base'
import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { startApp, until, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
beforeAll(async () => {
  app = await startApp()
  ines = await app.asks('ines')
})
afterAll(() => app.stop())

const resource = (service: string) =>
  resourceFromAttributes({ 'service.name': service, 'service.version': '1.0.0', 'deployment.environment.name': 'production' })
const to = (signal: 'logs' | 'traces', compression: CompressionAlgorithm) => ({
  url: `${app.url}/otlp/v1/${signal}`,
  headers: { authorization: `Bearer ${app.token('intake')}` },
  compression,
})
const faultOf = async (service: string) => (await ines(`/faults?service=${service}`)).body.rows[0]

/** Breaks here: its own function stands in the trace. */
function readProbe(): never {
  throw new RangeError('the probe reads nothing')
}
function broken(): Error {
  try {
    readProbe()
  } catch (error) {
    return error as Error
  }
}

test.each([
  ['JSON', JsonLogs, CompressionAlgorithm.NONE],
  ['JSON, gzip', JsonLogs, CompressionAlgorithm.GZIP],
  ['protobuf', ProtoLogs, CompressionAlgorithm.NONE],
  ['protobuf, gzip', ProtoLogs, CompressionAlgorithm.GZIP],
] as const)('the SDK’s log records with an exception become a fault (%s)', async (name, Exporter, compression) => {
  const service = `logs ${name}`
  const provider = new LoggerProvider({
    resource: resource(service),
    processors: [new SimpleLogRecordProcessor({ exporter: new Exporter(to('logs', compression)) })],
  })
  const error = broken()
  provider.getLogger('errors').emit({
    severityNumber: SeverityNumber.ERROR,
    body: error.message,
    attributes: {
      'exception.type': error.name,
      'exception.message': error.message,
      'exception.stacktrace': error.stack ?? '',
      'user.id': 'odile',
    },
  })
  await provider.forceFlush()
  await provider.shutdown()
  await until('the fault is there', async () => (await faultOf(encodeURIComponent(service))) !== undefined)
  expect(await faultOf(encodeURIComponent(service))).toMatchObject({
    type: 'RangeError',
    occurrences: 1,
    peopleHit: 1,
    releases: ['1.0.0'],
  })
  expect((await faultOf(encodeURIComponent(service))).place).toMatch(/^readProbe@/)
})

test.each([
  ['JSON', JsonTraces, CompressionAlgorithm.GZIP],
  ['protobuf', ProtoTraces, CompressionAlgorithm.NONE],
] as const)('the SDK’s span with a recorded exception becomes a fault (%s)', async (name, Exporter, compression) => {
  const service = `spans ${name}`
  const provider = new BasicTracerProvider({
    resource: resource(service),
    spanProcessors: [new SimpleSpanProcessor(new Exporter(to('traces', compression)))],
  })
  const span = provider.getTracer('errors').startSpan('control')
  span.recordException(broken())
  span.end()
  await provider.forceFlush()
  await provider.shutdown()
  await until('the fault is there', async () => (await faultOf(encodeURIComponent(service))) !== undefined)
  const fault = await faultOf(encodeURIComponent(service))
  expect(fault).toMatchObject({ type: 'RangeError', message: 'the probe reads nothing', occurrences: 1 })
  const { rows } = (await ines(`/faults/${fault.fault}/occurrences`)).body
  expect(rows[0].traceId).toMatch(/^[0-9a-f]{32}$/)
})

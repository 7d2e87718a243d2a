/** `src/telemetry.js` of the demo programs: OpenTelemetry's own SDK, set up by its standard environment variables. */
export const telemetrySource =
  `'use strict'
// Sends a span for each piece of work and a log record with the exception when one throws.
const { LoggerProvider, BatchLogRecordProcessor } = require('@opentelemetry/sdk-logs')
const { OTLPLogExporter } = require('@opentelemetry/exporter-logs-otlp-http')
const { BasicTracerProvider, BatchSpanProcessor } = require('@opentelemetry/sdk-trace-base')
const { OTLPTraceExporter } = require('@opentelemetry/exporter-trace-otlp-http')
const { resourceFromAttributes } = require('@opentelemetry/resources')
const { SeverityNumber } = require('@opentelemetry/api-logs')
const { ROOT_CONTEXT, trace } = require('@opentelemetry/api')

function startTelemetry(service) {
  const resource = resourceFromAttributes({
    'service.name': service, 'service.version': process.env.SERVICE_VERSION || 'unknown', 'deployment.environment.name': ` +
  `process.env.SERVICE_ENVIRONMENT || 'development',
  })
  const logs = new LoggerProvider({ resource, processors: [new BatchLogRecordProcessor({ exporter: new OTLPLogExporter(), ` +
  `scheduledDelayMillis: 1000 })] })
  const traces = new BasicTracerProvider({ resource, spanProcessors: [new BatchSpanProcessor(new OTLPTraceExporter(), { ` +
  `scheduledDelayMillis: 1500 })] })
  const logger = logs.getLogger(service)
  const tracer = traces.getTracer(service)

  function run(name, attributes, work) {
    const span = tracer.startSpan(name, { attributes })
    try {
      work()
    } catch (error) {
      logger.emit({
        severityNumber: SeverityNumber.ERROR, severityText: 'ERROR', body: error.message,
        // By its trace the error is found among what happened around it.
        context: trace.setSpan(ROOT_CONTEXT, span),
        attributes: { ...attributes, 'exception.type': error.name, 'exception.message': error.message, ` +
  `'exception.stacktrace': error.stack },
      })
    } finally {
      span.end()
    }
  }

  return { run, stop: () => Promise.allSettled([logs.shutdown(), traces.shutdown()]) }
}

module.exports = { startTelemetry }
`

import type { ConnectedService } from '@dystracer/core/faults/services-wire'
import { useState } from 'react'
import { FormProvider, useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { toChoices } from '#shared/lib/choices'
import { problemText } from '#shared/lib/problem-text'
import { TokenInPlace, usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { DeedTable } from '#shared/ui/DeedTable'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { BuiltFrom } from './BuiltFrom'
import { Copyable } from '#shared/ui/Copyable'
import { ScrubRules } from './ScrubRules'
import { ServiceForm } from './ServiceForm'
import { useConnectServiceMutation, useServicesQuery, useTestEventMutation } from './faults.api'

/** How programs send their errors here: which services are heard, what each is built from, and what to set up. */
export function ConnectPane() {
  const { data, error, isLoading } = useServicesQuery(undefined, { pollingInterval: 5000 })
  return (
    <Pane label="Connect" title="Connect a program">
      <div className="space-y-4 px-4 py-3">
        <Pending error={error} isLoading={isLoading} />
        {data && <Services rows={data.rows} />}
        <SetUp services={data?.rows.map((row) => row.service) ?? []} />
        <ScrubRules />
      </div>
    </Pane>
  )
}

function Services({ rows }: { rows: readonly ConnectedService[] }) {
  const { may } = usePeople()
  return (
    <section aria-label="Services">
      <SectionHead>Services</SectionHead>
      <DeedTable headings={['service.name', 'built from', 'folder', 'tags', 'last heard', 'source maps']}>
        {rows.map((row) => (
          <ServiceRow key={row.service} row={row} />
        ))}
      </DeedTable>
      {may('services.set-up') && <MapService key={rows.length} known={rows} />}
    </section>
  )
}

function ServiceRow({ row }: { row: ConnectedService }) {
  const { may } = usePeople()
  const trail = usePaneTrail()
  const [test] = useTestEventMutation()
  const [isOpen, setIsOpen] = useState(false)
  const send = async () => {
    const result = await test(row.service)
    if (result.error) toast.error(problemText(result.error))
    else toast.success(`A test event for ${row.service} went the whole way; it stands in Faults and counts for no release`)
  }
  return (
    <>
      <tr className="border-t border-edge-soft">
        <td className="py-1 font-mono text-[12px]">{row.service}</td>
        <td>
          {row.repository ? (
            <Button look="line" onClick={() => trail.open({ kind: 'code', id: '' })}>
              {row.repository}
            </Button>
          ) : (
            <span className="text-ochre">nothing yet</span>
          )}
        </td>
        <td className="font-mono text-[12px] text-ink-2">{row.repository === null ? '' : row.pathPrefix || 'all of it'}</td>
        <td className="font-mono text-[12px] text-ink-2">{row.tagPrefix === null ? '' : `${row.tagPrefix}1.2.3`}</td>
        <td>{row.lastHeardAtMs === null ? <span className="text-ink-3">never</span> : <When atMs={row.lastHeardAtMs} />}</td>
        <td>{row.maps === 0 ? <span className="text-ink-3">none</span> : row.maps}</td>
        <td className="text-right">
          {may('services.set-up') && row.repository !== null && (
            <Button
              look="line"
              className="mr-2"
              aria-expanded={isOpen}
              aria-label={`${isOpen ? 'Fold' : 'Change'} ${row.service}`}
              onClick={() => setIsOpen(!isOpen)}
            >
              {isOpen ? 'fold' : 'Change…'}
            </Button>
          )}
          {may('faults.sort') && (
            <Button look="line" onClick={() => void send()}>
              Send a test event
            </Button>
          )}
        </td>
      </tr>
      {isOpen && (
        <tr>
          <td colSpan={7} className="bg-paper px-3 py-2">
            <ServiceForm row={row} onDone={() => setIsOpen(false)} />
          </td>
        </tr>
      )}
    </>
  )
}

function MapService({ known }: { known: readonly ConnectedService[] }) {
  const { me } = usePeople()
  const [connect, { isLoading }] = useConnectServiceMutation()
  const form = useForm({
    defaultValues: {
      service: known.find((row) => row.repository === null)?.service ?? '',
      repository: '',
      pathPrefix: '',
      tagPrefix: 'v',
    },
  })
  const { register, handleSubmit, watch } = form
  const { service, repository } = watch()
  const save = handleSubmit(async (draft) => {
    const result = await connect({ project: me?.project.prefix ?? '', body: { ...draft, service: draft.service.trim() } })
    if (result.error) toast.error(problemText(result.error))
    else toast.success(`${draft.service} is built from ${draft.repository}`)
  })
  return (
    <form aria-label="Map a service" className="mt-2 flex flex-wrap items-end gap-2" onSubmit={(event) => void save(event)}>
      <Field label="Service, as it names itself">
        <TextInput {...register('service')} maxLength={200} placeholder="web-server" />
      </Field>
      <FormProvider {...form}>
        <BuiltFrom />
      </FormProvider>
      <Button type="submit" disabled={isLoading || service.trim() === '' || repository === ''}>
        Map the service
      </Button>
    </form>
  )
}

/**
 * What is set up in each language: the OpenTelemetry SDKs read these variables; what they need besides is one call that records the
 * exception.
 */
const LANGUAGES: Record<string, { install: string; code: string }> = {
  'Node.js': {
    install: 'npm install @opentelemetry/api-logs @opentelemetry/sdk-logs @opentelemetry/exporter-logs-otlp-http @opentelemetry/resources',
    code: `const provider = new LoggerProvider({
  resource: resourceFromAttributes({ 'service.name': 'SERVICE', 'service.version': version, 'deployment.environment.name': 'production' }),
  processors: [new BatchLogRecordProcessor(new OTLPLogExporter())],
})
const logger = provider.getLogger('errors')
process.on('uncaughtExceptionMonitor', (error) =>
  logger.emit({
    severityNumber: 17,
    body: error.message,
    attributes: { 'exception.type': error.name, 'exception.message': error.message, 'exception.stacktrace': error.stack },
  }),
)`,
  },
  Browser: {
    install: 'npm install @opentelemetry/sdk-trace-web @opentelemetry/exporter-trace-otlp-http',
    code: `window.addEventListener('error', ({ error }) => {
  const span = tracer.startSpan('error')
  span.recordException(error)
  span.end()
})`,
  },
  Python: {
    install: 'pip install opentelemetry-sdk opentelemetry-exporter-otlp-proto-http',
    code: `logging.getLogger().addHandler(LoggingHandler(logger_provider=provider))
try:
    handle(order)
except Exception:
    logging.exception("order failed")   # the traceback goes along
    raise`,
  },
  Java: {
    install: 'java -javaagent:opentelemetry-javaagent.jar -jar app.jar',
    code: `Span.current().recordException(exception);   // the agent records those that leave a request by itself`,
  },
  Go: {
    install: 'go get go.opentelemetry.io/otel/sdk go.opentelemetry.io/otel/exporters/otlp/otlptrace/otlptracehttp',
    code: `span.RecordError(err, trace.WithStackTrace(true))`,
  },
  '.NET': {
    install: 'dotnet add package OpenTelemetry.Exporter.OpenTelemetryProtocol',
    code: `Activity.Current?.AddException(exception);`,
  },
  Ruby: {
    install: 'gem install opentelemetry-sdk opentelemetry-exporter-otlp',
    code: `OpenTelemetry::Trace.current_span.record_exception(error)`,
  },
  PHP: {
    install: 'composer require open-telemetry/sdk open-telemetry/exporter-otlp',
    code: `$span->recordException($error);`,
  },
}

function SetUp({ services }: { services: readonly string[] }) {
  const [language, setLanguage] = useState('Node.js')
  const [service, setService] = useState('')
  const name = service || services[0] || 'my-service'
  const chosen = LANGUAGES[language]
  const variables = `OTEL_EXPORTER_OTLP_ENDPOINT=${window.location.origin}/otlp
OTEL_EXPORTER_OTLP_PROTOCOL=http/protobuf
OTEL_EXPORTER_OTLP_HEADERS=authorization=Bearer%20TOKEN
OTEL_SERVICE_NAME=${name}
OTEL_RESOURCE_ATTRIBUTES=service.version=1.2.3,deployment.environment.name=production`
  return (
    <section aria-label="Set-up">
      <SectionHead>Set-up</SectionHead>
      <div className="mb-2 flex flex-wrap items-end gap-2">
        <Field label="Language">
          <Choose value={language} choices={toChoices(Object.keys(LANGUAGES))} onChange={(event) => setLanguage(event.target.value)} />
        </Field>
        <Field label="For the service">
          <Choose
            value={name}
            choices={toChoices(services.length > 0 ? services : [name])}
            onChange={(event) => setService(event.target.value)}
          />
        </Field>
      </div>
      <ol className="m-0 list-decimal space-y-2 pl-5">
        <li>
          A token that may send errors of {name} and nothing else:{' '}
          <TokenInPlace key={name} scope="telemetry" name={name} services={[name]} />
        </li>
        <li>
          The SDK of OpenTelemetry:
          <Copyable text={chosen?.install ?? ''} />
        </li>
        <li>
          Where it sends to, in the environment of the program:
          <Copyable text={variables} />
        </li>
        <li>
          What records an exception:
          <Copyable text={(chosen?.code ?? '').replace('SERVICE', name)} />
        </li>
        {(language === 'Browser' || language === 'Node.js') && (
          <li>
            For built files, their source maps with each release (one by one, or the tar or zip archive of the build; those that the
            repository tracks beside the built files are found by themselves):
            <Copyable
              text={`curl -H "Authorization: Bearer TOKEN" --data-binary @dist/main.js.map \\
  "${window.location.origin}/receive/sourcemaps?repository=${name}&release=1.2.3&file=main.js"`}
            />
          </li>
        )}
      </ol>
    </section>
  )
}

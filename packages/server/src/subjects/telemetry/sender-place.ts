import type { Attributes } from './read-otlp.js'

/** Where a record came from: the program, its release and where that runs. */
export interface SenderPlace {
  service: string
  release: string
  environment: string
}

/**
 * Place by the semantic conventions of OpenTelemetry; what is not told is `unknown`, a release empty. A release is plain: `kiln@4.1.3` and
 * `v4.1.3` are `4.1.3`.
 */
export function placeOf(resource: Attributes): SenderPlace {
  const service = text(resource['service.name']).slice(0, 200) || 'unknown'
  const version = text(resource['service.version']).slice(0, 100)
  return {
    service,
    release: version.startsWith(`${service}@`) ? version.slice(service.length + 1) : version.replace(/^v(?=\d)/, ''),
    environment: (text(resource['deployment.environment.name']) || text(resource['deployment.environment'])).slice(0, 100) || 'unknown',
  }
}

/** An attribute as a text; empty for none. */
export function text(value: unknown): string {
  return typeof value === 'string' ? value : value === undefined || value === null ? '' : String(value)
}

/** OpenTelemetry severity numbers begin a level every four (TRACE 1, DEBUG 5, INFO 9, WARN 13, ERROR 17, FATAL 21). */
export const SEVERITY_LEVELS = { trace: 1, debug: 5, info: 9, warn: 13, error: 17, fatal: 21 } as const
/** The name of a log severity in OpenTelemetry's scale. */
export type SeverityName = keyof typeof SEVERITY_LEVELS

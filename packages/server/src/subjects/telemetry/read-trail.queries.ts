// Of trailAround; by the primary key, at most what intake keeps of a trace.
export const LIST_TRAIL_BY_TRACE = `SELECT mark, kind, service, parent, at_ms AS atMs, end_ms AS endMs, severity_number AS severityNumber,
    name, detail FROM trail_record WHERE trace_id = @traceId LIMIT 1000`

// Of trailAround: the services of the project that a service belongs to.
export const LIST_SERVICE_BESIDE = `SELECT b.name FROM service a JOIN service b ON b.project = a.project WHERE a.name = @service`

import protobuf from 'protobufjs'

/**
 * The parts of OpenTelemetry's protocol (opentelemetry-proto 1.x, logs and traces over HTTP) that are read here; unknown fields are skipped
 * as protobuf demands.
 */
const PROTO =
  `
syntax = "proto3";
message AnyValue { oneof value { string string_value = 1; bool bool_value = 2; int64 int_value = 3; double double_value = ` +
  `4; ArrayValue array_value = 5; KeyValueList kvlist_value = 6; bytes bytes_value = 7; } }
message ArrayValue { repeated AnyValue values = 1; }
message KeyValueList { repeated KeyValue values = 1; }
message KeyValue { string key = 1; AnyValue value = 2; }
message Resource { repeated KeyValue attributes = 1; }
message LogRecord { fixed64 time_unix_nano = 1; fixed64 observed_time_unix_nano = 11; int32 severity_number = 2; string ` +
  `severity_text = 3; AnyValue body = 5; repeated KeyValue attributes = 6; bytes trace_id = 9; bytes span_id = 10; }
message ScopeLogs { repeated LogRecord log_records = 2; }
message ResourceLogs { Resource resource = 1; repeated ScopeLogs scope_logs = 2; }
message ExportLogsServiceRequest { repeated ResourceLogs resource_logs = 1; }
message Event { fixed64 time_unix_nano = 1; string name = 2; repeated KeyValue attributes = 3; }
message Span { bytes trace_id = 1; bytes span_id = 2; bytes parent_span_id = 4; string name = 5; ` +
  `fixed64 start_time_unix_nano = 7; fixed64 end_time_unix_nano = 8; repeated KeyValue attributes = 9; repeated Event events = 11; }
message ScopeSpans { repeated Span spans = 2; }
message ResourceSpans { Resource resource = 1; repeated ScopeSpans scope_spans = 2; }
message ExportTraceServiceRequest { repeated ResourceSpans resource_spans = 1; }
message LogsPartialSuccess { int64 rejected_log_records = 1; string error_message = 2; }
message ExportLogsServiceResponse { LogsPartialSuccess partial_success = 1; }
message TracePartialSuccess { int64 rejected_spans = 1; string error_message = 2; }
message ExportTraceServiceResponse { TracePartialSuccess partial_success = 1; }
message Status { int32 code = 1; string message = 2; }
`
const root = protobuf.parse(PROTO).root

export const otlpMessages = {
  logs: root.lookupType('ExportLogsServiceRequest'),
  traces: root.lookupType('ExportTraceServiceRequest'),
  logsResponse: root.lookupType('ExportLogsServiceResponse'),
  tracesResponse: root.lookupType('ExportTraceServiceResponse'),
  status: root.lookupType('Status'),
}

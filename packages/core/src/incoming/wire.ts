import { zEmpty, zAtMs } from '#basics/wire'
import { title, description } from '#items/wire'
import { zDisposition } from '#ladder/wire'
import { REPORT_MEDIA, type ReportFormat } from '#builds/report-format'
import { operation, outsidePath, type OutsidePath } from '#people/operation'
import { z } from 'zod'
import { zErrorReport } from './error-form.js'
import { zHookProof, zHookReadings } from './hook-reading.js'

/** A report by somebody without an account, from the public form. */
export const zPublicReport = z.strictObject({
  title,
  description,
  address: z.union([z.email().max(200), z.literal('')]).default(''),
  component: z.string().max(100).nullable().default(null),
})
/** The text of the private link by which a reporter without an account follows their report. */
export const zReported = z.object({ token: z.string() })
/** What a reporter without an account reads by their private link. */
export const zReportState = z.object({
  title: z.string(),
  reportedAtMs: zAtMs,
  state: z.enum(['waits', 'asked', 'accepted', 'underway', 'fixed', 'released', 'verified', 'same-as', 'rejected', 'came-back']),
  disposition: zDisposition.nullable(),
  /** What they were told with a rejection, or what they are asked. */
  words: z.string(),
  /** Of the report that it is the same as, as much as they may know. */
  sameAsState: z.string().nullable(),
  answers: z.array(z.object({ text: z.string(), atMs: zAtMs })),
})
export type ReportState = z.infer<typeof zReportState>
/** A reporter's answer to a question, by private link. */
export const zAnswerReport = z.strictObject({ text: z.string().trim().min(1, 'Write an answer').max(20_000) })

/** What can be asked of incoming. */
export const incomingOperations = {
  readPublicForm: operation({
    method: 'get',
    path: '/public/:project/form',
    summary: 'What the public form asks, where it is switched on',
    may: 'anyone',
    about: 'nothing',
    isOfNow: true,
    answer: z.object({ name: z.string(), components: z.array(z.string()) }),
  }),
  sendPublicReport: operation({
    status: 201,
    method: 'post',
    path: '/public/:project/reports',
    summary: 'Report something without an account',
    may: 'anyone',
    about: 'nothing',
    body: zPublicReport,
    answer: zReported,
  }),
  readReport: operation({
    method: 'get',
    path: '/public/reports/:token',
    summary: 'What became of a report, by its private link',
    may: 'anyone',
    about: 'nothing',
    isOfNow: true,
    answer: zReportState,
  }),
  answerReport: operation({
    status: 201,
    method: 'post',
    path: '/public/reports/:token/answers',
    summary: 'Answer as the reporter',
    may: 'anyone',
    about: 'nothing',
    body: zAnswerReport,
    answer: zEmpty,
  }),
}

/** How a code host, a build service or a deployer signs what it sends (Standard Webhooks). */
export const zWebhook = z.object({ address: z.string(), secret: z.string() })
/** What becomes of an event from outside. */
export const EVENT_OUTCOMES = ['taken', 'passed over', 'kept for later', 'refused'] as const
/** An event that came in as a webhook, and what became of it. */
export const zDelivery = z.object({
  deliveryId: z.number().int(),
  atMs: zAtMs,
  /** The token that it came with, or that it was signed. */
  sender: z.string(),
  kind: z.string(),
  /** `passed over`: nothing here rests on it; `kept for later`: what it is about is not set up yet. */
  outcome: z.enum(EVENT_OUTCOMES),
  why: z.string().nullable(),
})
export type Delivery = z.infer<typeof zDelivery>
/** What became of one event of a request. */
export const zEventAnswer = z.object({ id: z.string().nullable(), outcome: z.enum(EVENT_OUTCOMES), why: z.string().nullable() })
export type EventAnswer = z.infer<typeof zEventAnswer>
const zDeliveries = z.object({
  rows: z.array(zDelivery),
  /** Events that wait for what they are about to be set up. */
  waiting: z.number().int(),
})

/** What a hook is called in addresses. */
export const zHookId = z.string().regex(/^[a-z0-9][a-z0-9-]{0,39}$/, 'Small letters, digits and hyphens')
/** A hook as it is set: its name, how its messages are proven, and how they are read. */
export const zSetHook = z.strictObject({
  name: z.string().trim().min(1, 'A name is needed').max(60),
  proof: zHookProof.default({ kind: 'standard-webhooks', header: '' }),
  readings: zHookReadings.default([]),
})
/** A way in for one program that sends plain JSON in a shape of its own. */
export const zHook = z.object({
  hookId: z.string(),
  name: z.string(),
  /** Where the program sends its messages. */
  address: z.string(),
  proof: zHookProof,
  readings: zHookReadings,
  /** Messages that are kept, and when the last one came. */
  messages: z.number().int(),
  lastAtMs: zAtMs.nullable(),
})
export type Hook = z.infer<typeof zHook>
const zHooks = z.object({ rows: z.array(zHook) })
/** A message of a hook as it is kept, and what became of it. */
export const zHookMessage = zDelivery.pick({ deliveryId: true, atMs: true, outcome: true, why: true }).extend({ message: z.unknown() })
export type HookMessage = z.infer<typeof zHookMessage>
/** What some readings would make of a message that is kept. */
export const zHookTried = z.object({
  deliveryId: z.number().int(),
  /** The reading that is about it; null where none is. */
  reading: z.string().nullable(),
  tells: z.string().nullable(),
  values: z.record(z.string(), z.string()),
  lacks: z.array(z.string()),
})
export type HookTried = z.infer<typeof zHookTried>

/** What can be asked of hooks. */
export const hookOperations = {
  listHooks: operation({
    method: 'get',
    path: '/projects/:project/hooks',
    summary: 'The ways in for programs that send plain JSON in a shape of their own',
    may: 'webhooks.set-up',
    about: 'project',
    isOfNow: true,
    answer: zHooks,
  }),
  setHook: operation({
    method: 'put',
    path: '/projects/:project/hooks/:hookId',
    summary: 'Make a way in for a program, or change how its messages are proven and read',
    may: 'webhooks.set-up',
    about: 'project',
    body: zSetHook,
    answer: zHooks,
  }),
  removeHook: operation({
    method: 'delete',
    path: '/projects/:project/hooks/:hookId',
    summary: 'Close a way in; what came by it stays',
    may: 'webhooks.set-up',
    about: 'project',
    answer: zHooks,
  }),
  readHookSecret: operation({
    method: 'get',
    path: '/projects/:project/hooks/:hookId/secret',
    summary: 'The secret by which the messages of a hook are proven',
    may: 'webhooks.set-up',
    about: 'project',
    isOfNow: true,
    isPersonal: true,
    answer: z.object({ secret: z.string() }),
  }),
  renewHookSecret: operation({
    asksAgain: true,
    method: 'post',
    path: '/projects/:project/hooks/:hookId/secret',
    summary: 'Make a new secret for a hook; what is proven by the old one is refused from now on',
    may: 'webhooks.set-up',
    about: 'project',
    isPersonal: true,
    isSecret: true,
    answer: z.object({ secret: z.string() }),
  }),
  listHookMessages: operation({
    method: 'get',
    path: '/projects/:project/hooks/:hookId/messages',
    summary: 'The newest fifty messages of a hook, as they came, with what became of each',
    may: 'webhooks.set-up',
    about: 'project',
    isOfNow: true,
    answer: z.object({ rows: z.array(zHookMessage) }),
  }),
  tryReadings: operation({
    method: 'post',
    path: '/projects/:project/hooks/:hookId/trial',
    summary: 'What some readings would make of the messages that are kept; nothing is changed',
    may: 'webhooks.set-up',
    about: 'project',
    body: z.strictObject({ readings: zHookReadings }),
    answer: z.object({ rows: z.array(zHookTried) }),
  }),
}

/** What can be asked of the way in for signed events. */
export const webhookOperations = {
  listDeliveries: operation({
    method: 'get',
    path: '/webhook/deliveries',
    summary: 'The newest 50 events that came in, and what became of each',
    may: 'webhooks.set-up',
    about: 'nothing',
    isOfNow: true,
    answer: zDeliveries,
  }),
  replayDelivery: operation({
    method: 'post',
    path: '/webhook/deliveries/:deliveryId/replay',
    summary: 'Take an event again as it came',
    may: 'webhooks.set-up',
    about: 'nothing',
    answer: zDeliveries,
  }),
  readWebhook: operation({
    method: 'get',
    path: '/webhook',
    summary: 'The address and secret for signed events',
    may: 'webhooks.set-up',
    about: 'nothing',
    isOfNow: true,
    isPersonal: true,
    answer: zWebhook,
  }),
  renewWebhook: operation({
    asksAgain: true,
    method: 'post',
    path: '/webhook/renewal',
    summary: 'Make a new secret; what is signed with the old one is refused from now on',
    may: 'webhooks.set-up',
    about: 'nothing',
    isPersonal: true,
    isSecret: true,
    answer: zWebhook,
  }),
}

const MEGABYTE = 1 << 20
const otlp = { media: ['application/json', 'application/x-protobuf'], limitBytes: 4 * MEGABYTE } as const
const zReportQuery = z.object({
  repository: z.string().max(100),
  commit: z.string().regex(/^[0-9a-f]{40,64}$/, 'The whole hash of a commit, 40 or 64 digits'),
  /** What the build service calls the build (`1877`, `ci-1877`); left out, the reports of a commit are one build. */
  build: z.string().trim().min(1).max(100).optional(),
  branch: z.string().max(250).default(''),
})
/** What was taken of a report; everything that it holds is stored. */
export const zTakenReport = z.object({
  kind: z.enum(['tests', 'coverage', 'findings']),
  /** Cases, files or findings in it. */
  results: z.number().int(),
  /** Items that its new findings made. */
  logged: z.number().int().optional(),
  /** What the sender should know: totals that do not fit, control characters left out, what was suppressed. */
  notes: z.array(z.string()),
})
const REPORT_WHAT: Record<ReportFormat, string> = {
  junit: 'A JUnit XML report: results of tests',
  tap: 'A TAP stream (versions 12 to 14): results of tests',
  ctrf: 'A report in the Common Test Report Format: results of tests',
  cobertura: 'A Cobertura XML report: which lines tests ran',
  lcov: 'An LCOV trace file: which lines tests ran',
  jacoco: 'A JaCoCo XML report: which lines tests ran',
  clover: 'A Clover XML report: which lines tests ran',
  sarif: 'A SARIF 2.1.0 log: findings of an analyser',
}

function reportPath<const Format extends ReportFormat>(format: Format) {
  return outsidePath({
    method: 'post',
    path: `/receive/reports/${format}`,
    summary: `${REPORT_WHAT[format]} about a commit, gzip allowed`,
    proof: 'evidence',
    takes: { media: REPORT_MEDIA[format], limitBytes: REPORT_MEGABYTES_MAX * MEGABYTE },
    query: zReportQuery,
    gives: { media: ['application/json'], json: zTakenReport, status: 200 },
    refusesAs: 'problem',
  })
}
const REPORT_MEGABYTES_MAX = 128
/** Where each format of a report is taken. */
export const reportPaths = {
  junit: reportPath('junit'),
  tap: reportPath('tap'),
  ctrf: reportPath('ctrf'),
  cobertura: reportPath('cobertura'),
  lcov: reportPath('lcov'),
  jacoco: reportPath('jacoco'),
  clover: reportPath('clover'),
  sarif: reportPath('sarif'),
} satisfies Record<ReportFormat, OutsidePath>
const zOtlpAnswer = z.object({ partialSuccess: z.record(z.string(), z.union([z.string(), z.number()])).optional() })

/** What became of a report of errors; those refused are told with the reason. */
export const zTakenErrors = z.object({ taken: z.number().int(), refused: z.number().int(), why: z.string() })

/** What programs outside send: each in its own protocol. */
export const incomingPaths = {
  takeOtlpLogs: outsidePath({
    method: 'post',
    path: '/otlp/v1/logs',
    summary: 'OpenTelemetry logs (OTLP/HTTP); exceptions become occurrences of faults',
    proof: 'telemetry',
    takes: otlp,
    gives: { media: otlp.media, json: zOtlpAnswer, status: 200 },
    refusesAs: 'otlp-status',
  }),
  takeOtlpTraces: outsidePath({
    method: 'post',
    path: '/otlp/v1/traces',
    summary: 'OpenTelemetry traces (OTLP/HTTP); exceptions of spans become occurrences of faults',
    proof: 'telemetry',
    takes: otlp,
    gives: { media: otlp.media, json: zOtlpAnswer, status: 200 },
    refusesAs: 'otlp-status',
  }),
  takeErrors: outsidePath({
    method: 'post',
    path: '/receive/errors',
    summary: 'Errors of a program that has no SDK, as plain JSON; they become occurrences of faults',
    proof: 'telemetry',
    takes: { media: ['application/json'], json: zErrorReport, limitBytes: 4 * MEGABYTE },
    gives: { media: ['application/json'], json: zTakenErrors, status: 202 },
    refusesAs: 'problem',
  }),
  takeCloudEvents: outsidePath({
    method: 'post',
    path: '/receive/cloudevents',
    summary: 'CloudEvents with types of CDEvents, one or a batch: pushes, pull requests, builds, deployments',
    proof: 'evidence',
    maySign: true,
    takes: { media: ['application/json', 'application/cloudevents+json', 'application/cloudevents-batch+json'], limitBytes: 4 * MEGABYTE },
    gives: { media: ['application/json'], json: z.object({ events: z.array(zEventAnswer) }), status: 202 },
    refusesAs: 'problem',
  }),
  takeHook: outsidePath({
    method: 'post',
    path: '/receive/hooks/:hookId',
    summary: 'A message of a program in a shape of its own, as plain JSON; it is read as the hook’s settings say, and kept',
    proof: 'evidence',
    maySign: true,
    takes: { media: ['application/json'], limitBytes: 4 * MEGABYTE },
    gives: { media: ['application/json'], json: z.object({ events: z.array(zEventAnswer) }), status: 202 },
    refusesAs: 'problem',
  }),
  ...reportPaths,
  takeSourceMap: outsidePath({
    method: 'post',
    path: '/receive/sourcemaps',
    summary: 'A source map of a release, or a tar or zip archive that holds some',
    proof: 'maps',
    takes: {
      media: ['application/json', 'application/octet-stream', 'application/zip', 'application/x-tar', 'application/gzip'],
      limitBytes: 64 * MEGABYTE,
    },
    query: z.object({
      repository: z.string().min(1).max(100),
      release: z.string().min(1).max(100),
      /** The built file that the map is for, or the map's own name, or that of the artefact that holds it. */
      file: z.string().min(1).max(500),
    }),
    gives: { media: ['application/json'], status: 200 },
    refusesAs: 'problem',
  }),
  takeMail: outsidePath({
    method: 'post',
    path: '/receive/mail',
    summary: 'A mail as it came (RFC 5322): a report, or the answer to one of ours',
    proof: 'mail',
    takes: { media: ['message/rfc822'], limitBytes: 25 * MEGABYTE },
    gives: { media: ['application/json'], json: z.object({ key: z.string().nullable() }), status: 202 },
    refusesAs: 'problem',
  }),
}

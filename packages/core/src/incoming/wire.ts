import { zEmpty, zAtMs } from '#basics/wire'
import { title, description } from '#items/wire'
import { zDisposition } from '#ladder/wire'
import { REPORT_MEDIA, type ReportFormat } from '#builds/report-format'
import { operation, outsidePath, type OutsidePath } from '#people/operation'
import { z } from 'zod'
import { zErrorReport } from './error-form.js'

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
    answer: z.object({ name: z.string(), components: z.array(z.string()) }),
  }),
  sendPublicReport: operation({
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
    answer: zReportState,
  }),
  answerReport: operation({
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

/** What can be asked of the way in for signed events. */
export const webhookOperations = {
  listDeliveries: operation({
    method: 'get',
    path: '/webhook/deliveries',
    summary: 'The newest 50 events that came in, and what became of each',
    may: 'webhooks.set-up',
    about: 'nothing',
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

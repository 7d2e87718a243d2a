import type { Disposition, Ladder, Stage } from '@dystracer/core/ladder/ladder'
import type { Provenance } from '@dystracer/core/threads/thread'
import type { NodeRef } from '@dystracer/core/basics/node-ref'
import type { ItemType } from '@dystracer/core/filter/filter'
import type { Priority } from '@dystracer/core/items/field-use'
import type { Classification, ItemTypeDefinition } from '@dystracer/core/items/item-type'
import type { LabelColour } from '@dystracer/core/items/label-colour'
import type { Milestone } from '@dystracer/core/items/milestone'
import type { OwnField, OwnValue } from '@dystracer/core/items/own-field'
import type { Role } from '@dystracer/core/contract/common'
import type { NoticeWay, NoticeWhy } from '@dystracer/core/inbox/notice'
import type { Decision, Proposed, TriageSource } from '@dystracer/core/triage/decision'
import type { RoutingRule } from '@dystracer/core/triage/routing'

export interface LinkBody {
  assertionId: string
  linkId: string
  kind: string
  from: NodeRef
  to: NodeRef
  provenance: Provenance
  source: string | null
  statedBy: string | null
  targetRevision: number | null
}
export interface PullRequestBody {
  repository: string
  number: number
  title: string
  body: string
  state: 'open' | 'merged' | 'closed'
  author: string
  head: string
  base: string
  headSha: string
  mergeSha: string | null
  createdAtMs: number
  updatedAtMs: number
  version: number
}
export interface TestResultBody {
  suite: string
  name: string
  outcome: 'passed' | 'failed' | 'skipped'
  durationMs: number
  message: string
  verifies: string[]
}

/** The fields of an item that `item-changed` may carry. */
export interface ItemFields {
  title: string
  description: string
  severity: number | null
  ownerId: string | null
  component: string | null
  milestone: string | null
  labels: string[]
  dueOn: string | null
  estimateMinutes: number | null
  type: ItemType
  priority: Priority | null
  coOwnerIds: string[]
  sprint: string | null
  points: number | null
  foundIn: string | null
  plannedFor: string | null
  classification: Classification | null
  ownValues: Record<string, OwnValue>
  isConfidential: boolean
  namedIds: string[]
  isArchived: boolean
}
export type FieldChanges = { [Field in keyof ItemFields]?: { from: ItemFields[Field]; to: ItemFields[Field] } }

/** Every event of the journal by kind, with its body. Bodies are facts: what is derived from them is not stored, apart from decisions (rule 17). */
export interface EventBodies {
  'project-created': { prefix: string; name: string; silenceMs: number; requirementPrefixes: string[] }
  'person-added': { personId: string; name: string; initials: string; email: string }
  'role-given': { project: string; personId: string; role: Role }
  'component-added': { project: string; name: string; keeperId: string | null; repository: string | null; pathPrefix: string | null }
  'repository-added': { name: string; url: string; mainBranch: string }
  'service-added': { name: string; project: string; repository: string; tagPrefix: string; pathPrefix?: string }
  'service-changed': { name: string; repository: string; tagPrefix: string; pathPrefix: string; ownCode: string[]; foreignCode: string[] }
  'scrub-rule-added': { ruleId: string; kind: 'text' | 'attribute'; pattern: string; name: string }
  'scrub-rule-removed': { ruleId: string }
  'environment-added': { name: string; kind: 'production' | 'staging' | 'test'; needsApproval: boolean; position: number }
  'rule-added': {
    ruleId: string
    project: string
    name: string
    environmentKind: string
    severityAtLeast: string
    countAtLeast: number
    windowMs: number
  }
  'requirement-written': { key: string; title: string; text: string; parent: string | null; isHeading: boolean; revision: number; position: number }
  'item-logged': {
    key: string
    project: string
    number: number
    type: ItemType
    title: string
    description: string
    severity: number | null
    component: string | null
    milestone: string | null
    labels: string[]
    foundIn: string | null
    cause: 'person' | 'rule' | 'import' | 'test' | 'finding'
    reporterId: string | null
    fault: string | null
    /** Whom it came from when that is no account: an address, or the public form. */
    from?: string
  }
  'item-moved': { key: string; newKey: string; project: string; number: number }
  'item-changed': { key: string; changes: FieldChanges }
  'item-accepted': { key: string }
  'item-rejected': { key: string; disposition: Disposition; words: string }
  'item-reopened': { key: string; why: string }
  'item-started': { key: string; repository: string; branch: string }
  'item-verified': { key: string; words: string }
  'stage-claimed': { key: string; stage: Stage; words: string }
  'ladder-moved': { key: string; ladder: Ladder; stair: string; from: string }
  'comment-added': { commentId: string; key: string; text: string; replyTo?: string; from?: string }
  'comment-edited': { commentId: string; key: string; text: string; before: string }
  'comment-reacted': { commentId: string; key: string; reaction: string; isOn: boolean }
  'follower-changed': { key: string; personId: string; isOn: boolean }
  'acceptance-withdrawn': { key: string }
  'item-merged': { key: string; into: string; followerIds: string[]; assertionIds: string[]; fault: string | null }
  'item-split': { key: string }
  'reporter-asked': { key: string; words: string; untilMs: number }
  'reporter-answered': { key: string }
  'asking-ended': { key: string }
  'triage-decided': {
    decisionId: string
    key: string
    project: string
    decision: Decision
    disposition: Disposition | null
    proposed: Partial<Proposed>
    chosen: Partial<Proposed>
    waitedMs: number
    source: TriageSource
    /** The entries of the same write that make up the decision: its undo takes them all back. */
    seqs: number[]
  }
  'routing-rule-set': RoutingRule & { project: string; position: number }
  'routing-rule-removed': { project: string; ruleId: string }
  'duty-set': { project: string; weekOn: string; personId: string | null }
  'person-notified': { noticeId: string; personId: string; key: string; why: NoticeWhy; words: string; way?: NoticeWay }
  'notices-read': { personId: string; noticeIds: string[] }
  'notices-mailed': { personId: string; noticeIds: string[]; messageId: string | null }
  'notices-snoozed': { personId: string; key: string; untilMs: number | null }
  'notice-way-chosen': { personId: string; why: NoticeWhy; way: NoticeWay }
  'view-saved': {
    viewId: string
    project: string
    ownerId: string
    name: string
    filter: string
    sort: string
    columns: string[]
    look?: object
    isShared: boolean
  }
  'view-removed': { viewId: string }
  'view-pinned': { viewId: string; personId: string; isPinned: boolean }
  'taken-in-hand': { personId: string; key: string; branch: string | null }
  parked: { personId: string; key: string; branch: string | null }
  'put-down': { personId: string; key: string }
  'hand-time-booked': { personId: string; key: string; coveredMs: number }
  'attachment-added': { attachmentId: string; key: string; name: string; mediaType: string; sizeBytes: number; sha256: string; hasThumbnail: boolean }
  'attachment-removed': { attachmentId: string; key: string; name: string }
  'type-defined': ItemTypeDefinition & { project: string }
  'own-field-defined': OwnField & { project: string }
  'type-removed': { project: string; type: string }
  'own-field-removed': { project: string; fieldId: string }
  'own-fields-ordered': { project: string; fieldIds: string[] }
  'milestone-set': Milestone & { project: string; formerName?: string }
  'milestone-removed': { project: string; name: string }
  'label-coloured': { project: string; label: string; colour: LabelColour }
  'stage-rule-set': { project: string; stage: string; needs: string[] }
  'setting-changed': { project: string; name: string; value: string }
  'change-undone': { seq: number; key: string; kind: string }
  'time-taken-back': { entryId: string; key: string; minutes: number }
  'time-booked': { entryId: string; key: string; personId: string; minutes: number; onDay: string; provenance: string }
  'link-asserted': LinkBody
  'link-retracted': { assertionId: string; linkId: string; from: NodeRef; to: NodeRef; kind: string }
  'link-vetoed': { linkId: string; source: string }
  'refs-moved': { repository: string; moves: { ref: string; from: string | null; to: string | null; isForced: boolean }[]; newCommits: string[] }
  'pull-request-seen': PullRequestBody
  'build-started': { repository: string; number: number; sha: string; branch: string }
  'build-finished': { repository: string; number: number; sha: string; branch: string; state: 'passed' | 'broke'; startedAtMs: number }
  'tests-reported': { repository: string; build: number; sha: string; results: TestResultBody[] }
  'release-found': { service: string; name: string; tag: string; sha: string; isRewritten: boolean }
  'deployment-asked': { deploymentId: string; service: string; release: string; environment: string }
  'deployment-approved': { deploymentId: string }
  'deployment-failed': { deploymentId: string; why: string }
  'deployment-seen': { deploymentId: string; service: string; release: string; environment: string }
  /** The other fault goes on under this one's number. */
  'fault-merged': { number: number; into: number }
  /** The other fault is one of its own again, with those that had gone into it first, and with the items that it had. */
  'fault-unmerged': { number: number; from: number; inner: number[]; items: string[] }
  /** Part of a fault, or one occurrence of it, belongs to another group from now on. */
  'fault-split': { number: number; fingerprint: string; to?: number | null; past?: boolean }
  /** More became known of the code: where a fault fails reads differently. */
  'fault-reread': { number: number; type: string; message: string; maskedMessage: string; place: string | null; reason: unknown }
  'fault-found': {
    number: number
    fingerprint: string
    service: string
    type: string
    message: string
    maskedMessage: string
    place: string | null
    reason: unknown
    traceDigest: string
  }
  'fault-in-release': { fault: string; release: string; environment: string }
  'rule-fired': { ruleId: string; fault: number; key: string; count: number }
  'mail-sent': { to: string; subject: string }
}
export type EventKind = keyof EventBodies

/** Who or what caused an event: `person:ines`, `rule:live-faults`, `source:code-host`, `system`. */
export type Actor = string

export interface EventDraft<Kind extends EventKind = EventKind> {
  kind: Kind
  body: EventBodies[Kind]
  actor: Actor
  /** Things whose history shows the event, as `kind:id`. */
  subjects: string[]
  /** When it happened; the clock's time when left out. */
  atMs?: number
  /** What it followed from, such as `push to fix/EMB-142` or a rule's name. */
  cause?: string
  /** The thing that carries the evidence, as `kind:id`. */
  source?: string
  /** An event with a key that is known already is not written again. */
  idempotencyKey?: string
}

export interface JournalEntry<Kind extends EventKind = EventKind> {
  seq: number
  kind: Kind
  atMs: number
  recordedAtMs: number
  actor: Actor
  cause: string | null
  source: string | null
  subjects: string[]
  body: EventBodies[Kind]
}

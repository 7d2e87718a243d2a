import type { PeopleEvents } from '#people/events'
import type { SetupEvents } from '#setup/events'
import type { RecordsEvents } from '#records/events'
import type { CodeEvents } from '#code/events'
import type { LookingEvents } from '#looking/events'
import type { InboxEvents } from '#inbox/events'
import type { RoutingEvents } from '#routing/events'
import type { TalkEvents } from '#talk/events'
import type { HandEvents } from '#hand/events'
import type { IncomingEvents } from '#incoming/events'
import type { LadderEvents } from '#ladder/events'
import type { RequirementsEvents } from '#requirements/events'
import type { ReleasesEvents } from '#releases/events'
import type { ReviewsEvents } from '#reviews/events'
import type { ItemsEvents } from '#items/events'
import type { FaultsEvents } from '#faults/events'
import type { BuildsEvents } from '#builds/events'
import type { BuildMachinesEvents } from '#build-machines/events'
import type { BisectingEvents } from '#bisecting/events'
import type { AuditsEvents } from '#audits/events'
import type { GlossaryEvents } from '#glossary/events'
import type { AgreementsEvents } from '#agreements/events'
import type { TrainsEvents } from '#trains/events'
import type { PlacesEvents } from '#places/events'
import type { ExploringEvents } from '#exploring/events'
import type { TrendsEvents } from '#trends/events'
import type { FindingsEvents } from '#findings/events'
import type { QualityEvents } from '#quality/events'
import type { TiesEvents } from '#ties/events'
import type { CasesEvents } from '#cases/events'
import type { IncidentsEvents } from '#incidents/events'
import type { DependenciesEvents } from '#dependencies/events'
import type { TriageEvents } from '#triage/events'
import type { UndoEvents } from '#undo/events'

/**
 * Every event of the journal by kind, with its body: a closed union. Bodies are facts: what is derived from them is not stored, apart from
 * decisions (docs/rules.md#journal).
 */
export interface EventBodies
  extends PeopleEvents,
    SetupEvents,
    RecordsEvents,
    CodeEvents,
    LookingEvents,
    InboxEvents,
    RoutingEvents,
    TalkEvents,
    HandEvents,
    IncomingEvents,
    LadderEvents,
    RequirementsEvents,
    ReleasesEvents,
    ReviewsEvents,
    ItemsEvents,
    FaultsEvents,
    BuildsEvents,
    BuildMachinesEvents,
    BisectingEvents,
    ExploringEvents,
    AgreementsEvents,
    TrainsEvents,
    PlacesEvents,
    GlossaryEvents,
    AuditsEvents,
    TrendsEvents,
    FindingsEvents,
    QualityEvents,
    TiesEvents,
    CasesEvents,
    IncidentsEvents,
    DependenciesEvents,
    TriageEvents,
    UndoEvents {}
/** The name of a kind of journal entry; a closed union. */
export type EventKind = keyof EventBodies

/** Who or what caused an event: `person:ines`, `rule:live-faults`, `source:code-host`, `system`. */
export type Actor = string

/** A journal entry before it is written: everything but its number. */
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

interface EntryOf<Kind extends EventKind> {
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
/** An event as it stands in the journal; looking at `kind` tells the type of its `body`. */
export type JournalEntry<Kind extends EventKind = EventKind> = { [Each in Kind]: EntryOf<Each> }[Kind]

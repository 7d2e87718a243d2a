import { KEYS } from '#shared/lib/keys'
import { RejectDialog } from '#features/rejecting/index'
import { type ActBody, useItemQuery } from '#features/items/items.api'
import type { Item } from '@dystracer/core/items/wire'
import type { Proposal, Proposals } from '@dystracer/core/triage/wire'
import { useEffect, type ReactNode } from 'react'
import { useProposalsQuery, useTriageQuery } from './triage.api'
import { useRequirementsQuery } from '#features/requirements/requirements.api'
import { useAppDispatch } from '#shared/lib/store'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Choose, TextInput } from '#shared/ui/fields'
import { Markdown } from '#shared/ui/Markdown'
import { focusPane, Pane } from '#shared/ui/Pane'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { FaultEvidence } from '#features/faults/index'
import {
  acceptBody,
  askedOf,
  firstDraft,
  NOBODY_TO_ASK,
  PROPOSALS_OF,
  proposedOf,
  type DecisionDraft,
  type DraftField,
} from './decision-draft'
import { AskDialog, SameAsDialog } from './DecisionDialogs'
import { dialogChosen, draftChanged, draftDropped, useTriageState } from './triage.slice'
import { type DecisionAct, useDecide } from './use-decide'

const QUEUE = { limit: 100 }
const DECIDED_WORD = {
  accept: 'accepted it',
  reject: 'rejected it',
  'same-as': 'said that it is the same as another',
  ask: 'asked its reporter',
} as const

/** Everything that a decision needs: what happened and where, and beside it the decision itself with its proposals. */
export function DecisionPane({ id }: { id: string }) {
  // Never those of the item before, while this one's are on their way: a decision is made on what stands here.
  const { currentData: item, error, isLoading } = useItemQuery(id)
  const { currentData: proposals } = useProposalsQuery(id)
  if (!item || !proposals)
    return (
      <Pane label={`Decide ${id}`} title={id}>
        <Pending error={error} isLoading={isLoading || !proposals} />
      </Pane>
    )
  const fault = item.links.find((link) => link.to.kind === 'fault')?.to.id
  return (
    <Pane
      label={`Decide ${item.key}`}
      title={
        <>
          <span className="font-mono text-[13px] font-normal">{item.key}</span> {item.title}
        </>
      }
    >
      <div className="grid min-h-full grid-cols-[minmax(0,1fr)_minmax(270px,310px)]">
        <div className="border-r border-edge">
          {fault ? <FaultEvidence fault={fault} /> : <Report item={item} />}
          <Section title="Likely brought in by" rows={proposals.broughtInBy} kind="commit" />
          <Section title="Already known?" rows={proposals.alike} kind="item" />
        </div>
        <Decision item={item} proposals={proposals} />
      </div>
    </Pane>
  )
}

function Report({ item }: { item: Item }) {
  const { nameOf } = usePeople()
  return (
    <div className="px-4 py-3">
      <p className="mb-2 text-[12px] text-ink-2">
        {item.cameFrom ?? nameOf(item.reporterId)}, <When atMs={item.createdAtMs} />
        {item.foundIn && ` · found in ${item.foundIn}`}
      </p>
      <Markdown text={item.description || 'Nothing was written.'} />
    </div>
  )
}

function Section({ title, rows, kind }: { title: string; rows: readonly Proposal[]; kind: 'item' | 'commit' }) {
  if (rows.length === 0) return null
  return (
    <section aria-label={title} className="border-t border-edge px-4 py-2">
      <SectionHead>{title}</SectionHead>
      {rows.map((entry) => (
        <p key={entry.value} className="py-0.5">
          <ThingLink to={{ kind, id: entry.value }} /> {entry.label}
          <span className="block text-[12px] text-ink-2">{entry.reason}</span>
        </p>
      ))}
    </section>
  )
}

function Decision({ item, proposals }: { item: Item; proposals: Proposals }) {
  const people = usePeople()
  const trail = usePaneTrail()
  const dispatch = useAppDispatch()
  const { drafts, dialog, source, gone } = useTriageState()
  const { data: requirements } = useRequirementsQuery()
  const args = { ...(source !== null && { source }), ...QUEUE }
  const { data: queue } = useTriageQuery(args)
  const isInQueue = trail.segments[trail.index - 1]?.kind === 'triage'
  const { decide, takeBack } = useDecide(queue?.rows.filter((row) => gone[row.item.key] === undefined) ?? [], {
    close: trail.close,
    // Only goes on to the next entry while nothing else was opened beside the decision.
    open: (key) => isInQueue && trail.segments.length <= trail.index + 1 && trail.rename(key),
  })
  const kept = drafts[item.key]
  const draft = kept ?? firstDraft(item, proposals)
  const set = (changes: Partial<DecisionDraft>) => dispatch(draftChanged({ key: item.key, draft: { ...draft, ...changes } }))
  // The list beside it decides by keys: it must know what stands here.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only the first draft of an item is put there
  useEffect(() => {
    if (!kept) dispatch(draftChanged({ key: item.key, draft }))
  }, [item.key, kept === undefined])
  const closeDialog = () => {
    dispatch(dialogChosen(null))
    requestAnimationFrame(() => focusPane(trail.index - 1))
  }
  const common = { proposed: proposedOf(proposals), asWaiting: true }
  const run = <Name extends DecisionAct>(what: Name, body: ActBody<Name>, said: string) => {
    closeDialog()
    dispatch(draftDropped(item.key))
    void decide(item.key, what, { ...body, ...common } as ActBody<Name>, said)
  }
  const { decided } = proposals
  const isLocked = !people.may('items.decide') || decided !== null
  const chosenRequirement = requirements?.rows.find((row) => row.key === draft.requirement)
  const personChoices = (people.me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))
  const nameChoices = (names: readonly string[]) => names.map((name) => ({ value: name, label: name }))
  const asked = askedOf(item, people.nameOf, people.me?.person?.personId)
  // The dialogs stand beside the form: submitting one would also submit a form around it.
  return (
    <>
      <form
        aria-label="Decision"
        className="flex flex-col gap-2 px-4 pt-3"
        onSubmit={(event) => {
          event.preventDefault()
          run('accept', acceptBody(draft, undefined, proposals, draft.severity), `${item.key} is accepted at ${draft.severity}`)
        }}
      >
        {decided ? (
          <p role="status" className="border-l-2 border-ochre bg-ochre-soft px-2 py-1">
            <b>{people.nameOf(decided.by)}</b> {DECIDED_WORD[decided.decision]}, <When atMs={decided.atMs} />.
          </p>
        ) : (
          <p className="font-bold">If it is ours</p>
        )}
        <Proposed field="requirement" label="Breaks" draft={draft} proposals={proposals} onTake={set}>
          <Choose
            aria-label="Breaks"
            className="py-1!"
            disabled={isLocked}
            value={draft.requirement}
            none="no requirement"
            onChange={(event) => set({ requirement: event.target.value })}
            choices={(requirements?.rows ?? [])
              .filter((row) => !row.isHeading)
              .map((row) => ({ value: row.key, label: `${row.key} ${row.title}` }))}
          />
          {chosenRequirement && <p className="mt-1 line-clamp-2 font-serif text-[14px]">{chosenRequirement.text}</p>}
        </Proposed>
        <Proposed field="ownerId" label="Owner" draft={draft} proposals={proposals} onTake={set}>
          <Choose
            aria-label="Owner"
            className="py-1!"
            disabled={isLocked}
            value={draft.ownerId}
            none="nobody yet"
            onChange={(event) => set({ ownerId: event.target.value })}
            choices={personChoices}
          />
        </Proposed>
        <Proposed field="component" label="Component" draft={draft} proposals={proposals} onTake={set}>
          <Choose
            aria-label="Component"
            className="py-1!"
            disabled={isLocked}
            value={draft.component}
            none="not sure"
            onChange={(event) => set({ component: event.target.value })}
            choices={nameChoices(people.me?.components ?? [])}
          />
        </Proposed>
        <Proposed field="milestone" label="Milestone" draft={draft} proposals={proposals} onTake={set}>
          <Choose
            aria-label="Milestone"
            className="py-1!"
            disabled={isLocked}
            value={draft.milestone}
            none="none yet"
            onChange={(event) => set({ milestone: event.target.value })}
            choices={nameChoices(people.me?.milestones ?? [])}
          />
        </Proposed>
        <div>
          <SectionHead>Title</SectionHead>
          <TextInput
            aria-label="Title"
            disabled={isLocked}
            value={draft.title}
            maxLength={200}
            onChange={(event) => set({ title: event.target.value })}
          />
        </div>
        <div>
          <SectionHead>How bad?</SectionHead>
          <div role="radiogroup" aria-label="Severity" className="flex gap-2">
            {[1, 2, 3, 4, 5].map((value) => (
              // biome-ignore lint/a11y/useSemanticElements: a numeral over a bar is drawn, the roles say what it is
              <button
                key={value}
                type="button"
                role="radio"
                disabled={isLocked}
                aria-checked={draft.severity === value}
                aria-label={`severity ${value}`}
                onClick={() => set({ severity: value })}
                className={`flex-1 border-b-[3px] pb-0.5 text-[15px] font-bold ${draft.severity === value ? 'border-fault' : 'border-edge'} ${value <= 2 ? 'text-fault' : value === 3 ? 'text-ink' : 'text-ink-3'}`}
              >
                {value}
              </button>
            ))}
          </div>
          <p className="mt-1 text-[12px] text-ink-2">
            {proposals.severity.value} looks right: {proposals.severity.reason}
          </p>
        </div>
        <div className="sticky bottom-0 flex flex-wrap items-center gap-2 border-t border-edge bg-sheet py-2">
          {decided ? (
            <Button onClick={() => void takeBack()} disabled={decided.by !== `person:${people.me?.person?.personId}`}>
              Take it back
            </Button>
          ) : (
            <>
              <Button look="main" type="submit" disabled={isLocked}>
                Accept at {draft.severity}
              </Button>
              <Button look="text" disabled={isLocked} onClick={() => dispatch(dialogChosen('same-as'))}>
                Same as…
              </Button>
              <Button
                look="text"
                disabled={isLocked || asked === null}
                title={asked === null ? NOBODY_TO_ASK : `Asks ${asked}`}
                onClick={() => dispatch(dialogChosen('ask'))}
              >
                Ask…
              </Button>
              <Button look="text" disabled={isLocked} onClick={() => dispatch(dialogChosen('reject'))}>
                Reject…
              </Button>
            </>
          )}
        </div>
        {!people.may('items.decide') && <p className="text-ochre">Sign in to decide.</p>}
      </form>
      {dialog === 'same-as' && (
        <SameAsDialog
          itemKey={item.key}
          isOpen
          onClose={closeDialog}
          alike={proposals.alike}
          onChosen={(into) => run('merge', { into }, `${item.key} is the same as ${into}`)}
        />
      )}
      {dialog === 'ask' && asked !== null && (
        <AskDialog
          itemKey={item.key}
          isOpen
          onClose={closeDialog}
          reporter={asked}
          onChosen={(words, days) => run('ask', { words, days }, `The reporter of ${item.key} is asked`)}
        />
      )}
      {dialog === 'reject' && (
        <RejectDialog
          itemKey={item.key}
          isOpen
          onClose={closeDialog}
          onChosen={(rejection) => run('reject', rejection, `${item.key} is rejected`)}
        />
      )}
    </>
  )
}

/** A field with its proposals: the reason for what is chosen, one key that takes the next, and the others to click. */
function Proposed({
  field,
  label,
  draft,
  proposals,
  onTake,
  children,
}: {
  field: DraftField
  label: string
  draft: DecisionDraft
  proposals: Proposals
  onTake: (changes: Partial<DecisionDraft>) => void
  children: ReactNode
}) {
  const rows = proposals[PROPOSALS_OF[field]]
  const chosen = rows.find((entry) => entry.value === draft[field])
  const other = rows.find((entry) => entry.value !== draft[field])
  return (
    <div>
      <div className="mb-0.5 flex items-center justify-between text-[12px] font-bold text-ink-3">
        {label}
        {rows.length > 0 && (
          <kbd
            title={`${KEYS.triage[field].shown} takes the next proposal`}
            className="rounded-[2px] border border-edge px-1 font-mono text-[11px] font-normal"
          >
            {KEYS.triage[field].shown}
          </kbd>
        )}
      </div>
      {children}
      {chosen && <p className="text-[12px] text-ink-2">{chosen.reason}</p>}
      {other && (
        <p className="text-[12px] text-ink-3">
          or{' '}
          <button type="button" className="link text-left" onClick={() => onTake({ [field]: other.value })}>
            {field === 'requirement' ? `${other.value} ${other.label}` : other.label}
          </button>{' '}
          · {other.reason}
        </p>
      )}
    </div>
  )
}

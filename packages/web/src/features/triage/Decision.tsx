import { RejectDialog } from '#features/rejecting/index'
import type { ActBody } from '#features/items/items.api'
import type { Item } from '@dystracer/core/items/wire'
import type { Proposals } from '@dystracer/core/triage/wire'
import { useEffect } from 'react'
import { useTriageQuery } from './triage.api'
import { useAppDispatch } from '#shared/lib/store'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { focusPane } from '#shared/ui/Pane'
import { Button, When } from '#shared/ui/parts'
import { acceptBody, askedOf, firstDraft, NOBODY_TO_ASK, proposedOf, type DecisionDraft } from './decision-draft'
import { AskDialog, SameAsDialog } from './DecisionDialogs'
import { DecisionFields } from './DecisionFields'
import { dialogChosen, draftChanged, draftDropped, useTriageState } from './triage.slice'
import { type DecisionAct, useDecide } from './use-decide'

const QUEUE = { limit: 100 }
const DECIDED_WORD = {
  accept: 'accepted it',
  reject: 'rejected it',
  'same-as': 'said that it is the same as another',
  ask: 'asked its reporter',
} as const

/** The decision about a waiting item: its fields, and the ways out of the queue. */
export function Decision({ item, proposals }: { item: Item; proposals: Proposals }) {
  const people = usePeople()
  const trail = usePaneTrail()
  const dispatch = useAppDispatch()
  const { drafts, source, gone } = useTriageState()
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
        <DecisionFields draft={draft} proposals={proposals} isLocked={isLocked} onChange={set} />
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
      <DecisionDialogs item={item} proposals={proposals} asked={asked} onClose={closeDialog} onDecide={run} />
    </>
  )
}

/** The decisions that ask for more: which item it is the same as, what its reporter is asked, why it is not ours. */
function DecisionDialogs({
  item,
  proposals,
  asked,
  onClose: closeDialog,
  onDecide: run,
}: {
  item: Item
  proposals: Proposals
  asked: string | null
  onClose: () => void
  onDecide: <Name extends DecisionAct>(what: Name, body: ActBody<Name>, said: string) => void
}) {
  const { dialog } = useTriageState()
  return (
    <>
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

import type { TriageEntry } from '@dystracer/core/triage/wire'
import { actionOf } from '#shared/lib/keys'
import type { ItemSummary } from '@dystracer/core/records/wire'
import { useCallback, useEffect, useMemo, useState, type KeyboardEvent } from 'react'
import { toast } from 'sonner'
import { itemsApi } from '#features/items/items.api'
import { triageApi, useTriageQuery } from './triage.api'
import { useAppDispatch, useAppSelector } from '#shared/lib/store'
import { usePeople } from '#features/people/index'
import { useSteadyRows } from '#shared/lib/use-steady-rows'
import { usePaneTrail } from '#shared/lib/use-trail'
import { acceptBody, askedOf, nextProposal, NOBODY_TO_ASK, PROPOSALS_OF, proposedOf, type DraftField } from './decision-draft'
import { decisionsSettled, dialogChosen, draftChanged, draftDropped, useTriageState } from './triage.slice'
import { useDecide } from './use-decide'

const PAGE = 100
const STANDARD_QUESTION = 'What did you do, what did you expect, and what happened?'
/** Neighbours of the open decision are read ahead, so that the next one stands there at once. */
const READ_AHEAD = 2

/**
 * The queue of triage: what waits and what is marked, and the keys that decide. Digits accept at that severity, a letter opens another
 * decision, its capital takes it at once.
 */
export function useTriageQueue() {
  const { drafts, source, gone } = useTriageState()
  const [limit, setLimit] = useState(PAGE)
  const args = { ...(source !== null && { source }), limit }
  const { data, error, isLoading, isFetching } = useTriageQuery(args)
  const trail = usePaneTrail()
  const dispatch = useAppDispatch()
  const { may, me, nameOf } = usePeople()
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set())
  const openKey = trail.next?.kind === 'decision' ? trail.next.id : null
  const waiting = useMemo(() => (data?.rows ?? []).filter((row) => gone[row.item.key] === undefined), [data, gone])
  const total = (data?.total ?? 0) - ((data?.rows.length ?? 0) - waiting.length)
  const { shown: rows, fresh, showFresh } = useSteadyRows(waiting, (row) => row.item.key, openKey !== null)
  const show = (key: string, isStep: boolean) => trail.open({ kind: 'decision', id: key }, { isStep })
  const { decide, decideMany, takeBack } = useDecide(rows, { close: trail.close, open: (key) => show(key, true) })
  const proposals = useAppSelector((state) => (openKey === null ? undefined : triageApi.endpoints.proposals.select(openKey)(state).data))
  // What the server does not list any more is settled: should it come back later, it shows again.
  useEffect(() => {
    const settled = Object.keys(gone).filter((key) => data && !data.rows.some((row) => row.item.key === key))
    if (settled.length > 0 && !isFetching) dispatch(decisionsSettled(settled))
  }, [data, gone, isFetching, dispatch])
  // Speaks with the server: the next decisions are read before they are asked for.
  useEffect(() => {
    const at = rows.findIndex((row) => row.item.key === openKey)
    for (const row of rows.slice(at + 1, at + 1 + READ_AHEAD)) {
      dispatch(itemsApi.util.prefetch('item', row.item.key, {}))
      dispatch(triageApi.util.prefetch('proposals', row.item.key, {}))
    }
  }, [openKey, rows, dispatch])

  // A decision that was opened by its address need not be among the rows that are read already.
  const openItem = useAppSelector((state) => (openKey === null ? undefined : itemsApi.endpoints.item.select(openKey)(state).data))
  const hasMore = data !== undefined && data.nextCursor !== null && !isFetching
  const onNearEnd = useCallback(() => {
    if (hasMore) setLimit((now) => now + PAGE)
  }, [hasMore])

  const accept = (item: ItemSummary, severity: number) => {
    const draft = item.key === openKey ? drafts[item.key] : undefined
    dispatch(draftDropped(item.key))
    void decide(item.key, 'accept', acceptBody(draft, item, proposals, severity), `${item.key} is accepted at ${severity}`)
  }
  const takeNext = (key: string, field: DraftField) => {
    const draft = drafts[key]
    if (!draft || !proposals) return
    const values = proposals[PROPOSALS_OF[field]].map((entry) => entry.value)
    dispatch(draftChanged({ key, draft: { ...draft, [field]: nextProposal(values, draft[field]) } }))
  }
  const onKey = (event: KeyboardEvent, row: TriageEntry | undefined, step: (to: TriageEntry) => void): boolean => {
    const action = actionOf('triage', event)
    if (action === null) return false
    if (action === 'undo') {
      void takeBack()
      return true
    }
    const item = row?.item ?? openItem
    if (!item || !may('items.decide')) return false
    const { key } = item
    switch (action) {
      case 'choose': {
        const next = new Set(marked)
        if (!next.delete(key)) next.add(key)
        setMarked(next)
        return true
      }
      case 'extend': {
        const other = rows[rows.findIndex((entry) => entry.item.key === key) + (event.key === 'ArrowDown' ? 1 : -1)]
        setMarked((now) => new Set([...now, key, ...(other ? [other.item.key] : [])]))
        if (other) step(other)
        return true
      }
      case 'accept':
        if (marked.size > 0) {
          void decideMany({ decision: 'accept', severity: Number(event.key), keys: [...marked] }, `accepted at ${event.key}`)
          setMarked(new Set())
        } else accept(item, Number(event.key))
        return true
      case 'requirement':
      case 'ownerId':
      case 'component':
      case 'milestone':
        if (key === openKey) takeNext(key, action)
        return key === openKey
      default:
        return onDecision(action, key)
    }
  }
  /** The decisions that open a dialog, and those that need none. */
  const onDecision = (action: 'sameAs' | 'sameAsFirst' | 'ask' | 'askStandard' | 'reject' | 'rejectOutright', key: string): boolean => {
    const isAsking = action === 'ask' || action === 'askStandard'
    if (isAsking && openItem?.key === key && askedOf(openItem, nameOf, me?.person?.personId) === null) {
      toast.error(`${NOBODY_TO_ASK}.`)
      return true
    }
    const [alike] = key === openKey ? (proposals?.alike ?? []) : []
    const common = { proposed: key === openKey ? proposedOf(proposals) : {}, asWaiting: true }
    switch (action) {
      case 'sameAs':
      case 'ask':
      case 'reject':
        if (key !== openKey) show(key, true)
        dispatch(dialogChosen(action === 'sameAs' ? 'same-as' : action))
        return true
      case 'sameAsFirst':
        if (alike) void decide(key, 'merge', { into: alike.value, ...common }, `${key} is the same as ${alike.value}`)
        return alike !== undefined
      case 'askStandard':
        void decide(key, 'ask', { words: STANDARD_QUESTION, ...common }, `The reporter of ${key} is asked`)
        return true
      case 'rejectOutright':
        void decide(key, 'reject', { disposition: 'will-not-fix', ...common }, `${key} is rejected`)
        return true
    }
  }
  return { data, error, isLoading, source, total, rows, fresh, showFresh, openKey, marked, setMarked, decideMany, show, onKey, onNearEnd }
}

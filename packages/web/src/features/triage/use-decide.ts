import { type ActBody, type Act, useActMutation } from '#features/items/items.api'
import type { DecideMany, TriageEntry } from '@dystracer/core/triage/wire'
import { toast } from 'sonner'
import { useDecideManyMutation } from './triage.api'
import { useUndoMutation } from '#features/undo/undo.api'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { useAppDispatch } from '#shared/lib/store'
import type { PaneTrail } from '#shared/lib/use-trail'
import { decisionsSettled, decisionTaken } from './triage.slice'

export type DecisionAct = 'accept' | 'reject' | 'merge' | 'ask'

/**
 * Taking decisions: the decided row leaves at once and the next one opens by itself while the server is still writing; what it refuses
 * comes back, with the reason. `open` shows another decision in the pane that
 * stands for decisions.
 */
export function useDecide(rows: readonly TriageEntry[], trail: Pick<PaneTrail, 'close'> & { open: (key: string) => void }) {
  const dispatch = useAppDispatch()
  const [act] = useActMutation()
  const [many] = useDecideManyMutation()
  const [undo] = useUndoMutation()

  const goOn = (key: string): void => {
    const at = rows.findIndex((row) => row.item.key === key)
    const next = rows[at + 1] ?? rows[at - 1]
    if (next && next.item.key !== key) trail.open(next.item.key)
    else trail.close()
  }
  const takeBack = async (): Promise<void> => {
    const result = await undo({})
    if (result.error) return void toast.error(problemText(result.error))
    dispatch(decisionsSettled([result.data.key]))
    toast.success(`Your last ${result.data.said === 'triage-decided' ? 'decision on' : 'change of'} ${result.data.key} is taken back`)
    trail.open(result.data.key)
  }
  return {
    takeBack,
    async decide<Name extends DecisionAct>(key: string, what: Name, body: ActBody<Name>, said: string): Promise<void> {
      goOn(key)
      dispatch(decisionTaken(key))
      const result = await act({ key, act: what, body } as Act)
      if (result.error) {
        dispatch(decisionsSettled([key]))
        trail.open(key)
        return void toast.error(problemText(result.error))
      }
      toast.success(said, { id: 'decided', action: { label: 'Undo', onClick: () => void takeBack() } })
    },
    async decideMany(input: DecideMany, said: string): Promise<void> {
      const result = await many(input)
      if (result.error) return void toast.error(problemText(result.error))
      const { decided, refused } = result.data
      if (refused.length > 0) toast.error(`${plural(refused.length, 'item')} stayed: ${refused[0]?.key}: ${refused[0]?.why}`)
      if (decided > 0) toast.success(`${plural(decided, 'item')} ${said}`)
    },
  }
}

import type { FaultAct } from '@dystracer/core/faults/wire'
import { toast } from 'sonner'
import { useUndoMutation } from '#features/undo/undo.api'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import type { Body } from '#shared/lib/api'
import { useActOnFaultsMutation } from './faults.api'

/** What acts are sent as: what the server fills in may be left out. */
export type GivenAct = Body<'actOnFaults'>['act']
/** What was done, in words that follow “F-3 ”. */
const DONE: Record<FaultAct['act'], string> = {
  assign: 'given away',
  silence: 'silenced',
  hear: 'heard again',
  'not-ours': 'set aside: not ours',
  fixed: 'said to be fixed',
  unjudge: 'open again',
  tie: 'tied',
  untie: 'untied',
}

/** Does something with one fault or several, says what became of it, and offers to take it back. */
export function useFaultActs() {
  const [send, { isLoading }] = useActOnFaultsMutation()
  const [undo] = useUndoMutation()
  /** Takes back what is named, the last first; without names the last change of one's own. */
  const takeBack = async (seqs: readonly number[] = []) => {
    for (const body of seqs.length > 0 ? [...seqs].reverse().map((seq) => ({ seq })) : [{}]) {
      const result = await undo(body)
      if (result.error) return void toast.error(problemText(result.error))
    }
    toast.success('Taken back')
  }
  /** True when it was done with at least one. */
  const act = async (faults: readonly string[], given: GivenAct): Promise<boolean> => {
    const result = await send({ faults: [...faults], act: given })
    if (result.error) {
      toast.error(problemText(result.error))
      return false
    }
    const { done, refused, seqs } = result.data
    for (const { fault, why } of refused) toast.error(`${fault}: ${why}`)
    if (done.length > 0)
      toast.success(`${done.length === 1 ? done[0] : plural(done.length, 'fault')} ${DONE[given.act]}`, {
        ...(seqs.length > 0 && { action: { label: 'Take back', onClick: () => void takeBack(seqs) } }),
      })
    return done.length > 0
  }
  return { act, takeBack, isBusy: isLoading }
}

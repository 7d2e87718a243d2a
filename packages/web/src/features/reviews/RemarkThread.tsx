import type { Remark } from '@dystracer/core/reviews/wire'
import { usePeople } from '#features/people/index'
import { Thread } from '#shared/diff/Thread'
import { TakeProposed } from './TakeProposed'
import { useMakeRemarkMutation, useReactToRemarkMutation, useSettleRemarkMutation } from './reviews.api'

/** A remark on a change with its answers, and what it proposes instead. */
export function RemarkThread({ id, remark, canWrite }: { id: string; remark: Remark; canWrite: boolean }) {
  const { me, nameOf } = usePeople()
  const [react] = useReactToRemarkMutation()
  const [settle] = useSettleRemarkMutation()
  const [make, { isLoading }] = useMakeRemarkMutation()
  const { remarkId, instead } = remark
  const canTake = !remark.isSettled && remark.now !== null && instead !== null
  return (
    <Thread
      project={me?.project.prefix ?? ''}
      remark={remark}
      nameOf={nameOf}
      mine={me?.person?.personId}
      canWrite={canWrite}
      isSending={isLoading}
      below={instead !== null && <Instead text={instead} />}
      acts={canTake && <TakeProposed id={id} remarkIds={[remarkId]} label="Take it into the change" />}
      onAnswer={(text) => make({ id, text, replyTo: remarkId })}
      onSettle={(isSettled) => settle({ id, remarkId, isSettled })}
      onReact={(to, body) => react({ id, remarkId: to, ...body })}
    />
  )
}

/** What a remark proposes in place of its lines. */
export function Instead({ text }: { text: string }) {
  return (
    <figure className="m-0 my-1">
      <figcaption className="text-[12px] text-ink-2">{text === '' ? 'Instead: nothing, the line goes' : 'Instead'}</figcaption>
      {text !== '' && <pre className="m-0 overflow-x-auto bg-proof-soft px-2 py-0.5 font-mono text-[12px]">{text}</pre>}
    </figure>
  )
}

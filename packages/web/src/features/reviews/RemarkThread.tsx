import type { Remark } from '@dystracer/core/reviews/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Markdown } from '#shared/ui/Markdown'
import { Button, When } from '#shared/ui/parts'
import { TakeProposed } from './TakeProposed'
import { RemarkForm } from '#shared/diff/RemarkForm'
import { useMakeRemarkMutation, useSettleRemarkMutation } from './reviews.api'

/** A remark with its answers; settled ones fold to a line. */
export function RemarkThread({ id, remark, canWrite }: { id: string; remark: Remark; canWrite: boolean }) {
  const { nameOf } = usePeople()
  const [settle] = useSettleRemarkMutation()
  const [make, { isLoading }] = useMakeRemarkMutation()
  const [isOpen, setIsOpen] = useState(!remark.isSettled)
  const [isAnswering, setIsAnswering] = useState(false)
  if (!isOpen)
    return (
      <p className="m-0 px-4 py-1 text-[12px] text-ink-3">
        <Button look="text" onClick={() => setIsOpen(true)}>
          {nameOf(remark.personId)}: settled by {nameOf(remark.settledBy)}
        </Button>
      </p>
    )
  const said = [remark, ...remark.answers]
  const canTake = canWrite && !remark.isSettled && remark.now !== null && remark.instead !== null
  return (
    <div className="mx-4 my-1 border-l-2 border-edge pl-3 text-[13px]">
      {said.map(({ remarkId, personId, atMs, text }) => (
        <div key={remarkId} className="py-0.5">
          <b>{nameOf(personId)}</b>{' '}
          <span className="text-[12px] text-ink-2">
            <When atMs={atMs} />
          </span>
          <Markdown text={text} />
          {remarkId === remark.remarkId && remark.instead !== null && <Instead text={remark.instead} />}
        </div>
      ))}
      {canWrite && !isAnswering && (
        <p className="m-0">
          {canTake && <TakeProposed id={id} remarkIds={[remark.remarkId]} label="Take it into the change" />}
          <Button look="text" onClick={() => setIsAnswering(true)}>
            Answer…
          </Button>{' '}
          <Button
            look="text"
            onClick={() =>
              void settle({ id, remarkId: remark.remarkId, isSettled: !remark.isSettled }).then((result) => {
                tellRefusal(result)
                if (!result.error) setIsOpen(remark.isSettled)
              })
            }
          >
            {remark.isSettled ? 'Not settled' : 'Settled'}
          </Button>
        </p>
      )}
      {isAnswering && (
        <RemarkForm
          label="Your answer"
          deed={isLoading ? 'Sending …' : 'Answer'}
          onCancel={() => setIsAnswering(false)}
          onWritten={({ text }) =>
            void make({ id, text, replyTo: remark.remarkId }).then((result) => {
              tellRefusal(result)
              if (!result.error) setIsAnswering(false)
            })
          }
        />
      )}
    </div>
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

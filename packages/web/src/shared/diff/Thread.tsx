import type { Reactions } from '@dystracer/core/talk/wire'
import { useState, type ReactNode } from 'react'
import type { Body } from '#shared/lib/api'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Markdown } from '#shared/ui/Markdown'
import { Button, When } from '#shared/ui/parts'
import { ReactionRow } from '#shared/ui/ReactionRow'
import { RemarkForm } from './RemarkForm'

interface Said {
  remarkId: string
  personId: string
  atMs: number
  text: string
  reactions: Reactions
}
type Sent = Promise<{ error?: unknown }>

/** A remark with its answers; a settled one folds to a line. What is refused is said, and what was written stays. */
export function Thread({
  project,
  remark,
  nameOf,
  mine,
  canWrite,
  isSending = false,
  head,
  below,
  acts,
  onAnswer,
  onSettle,
  onReact,
}: {
  /** Whose members see the pictures in answers. */
  project: string
  remark: Said & { isSettled: boolean; settledBy: string | null; answers: readonly Said[] }
  nameOf: (actor: string | null) => string
  /** Who looks. */
  mine: string | undefined
  canWrite: boolean
  isSending?: boolean
  /** What stands above it, such as where its lines are. */
  head?: ReactNode
  /** What stands below the words that began it. */
  below?: ReactNode
  /** What else can be done about it. */
  acts?: ReactNode
  onAnswer: (text: string) => Sent
  onSettle: (isSettled: boolean) => Sent
  onReact: (remarkId: string, body: Body<'reactToRemark'>) => Sent
}) {
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
  const answer = async (text: string) => {
    const result = await onAnswer(text)
    tellRefusal(result)
    if (!result.error) setIsAnswering(false)
  }
  const turn = async () => {
    const result = await onSettle(!remark.isSettled)
    tellRefusal(result)
    if (!result.error) setIsOpen(remark.isSettled)
  }
  return (
    <div className="mx-4 my-1 border-l-2 border-edge pl-3 text-[13px]">
      {head}
      {[remark, ...remark.answers].map(({ remarkId, personId, atMs, text, reactions }) => (
        <div key={remarkId} className="py-0.5">
          <b>{nameOf(personId)}</b>{' '}
          <span className="text-[12px] text-ink-2">
            <When atMs={atMs} />
          </span>
          <Markdown text={text} />
          {remarkId === remark.remarkId && below}
          {(canWrite || reactions.length > 0) && (
            <p className="m-0 flex flex-wrap gap-x-3 text-[12px]">
              <ReactionRow
                reactions={reactions}
                mine={mine}
                canReact={canWrite}
                nameOf={nameOf}
                onReact={(reaction, isOn) => void onReact(remarkId, { reaction, isOn }).then(tellRefusal)}
              />
            </p>
          )}
        </div>
      ))}
      {canWrite && !isAnswering && (
        <p className="m-0">
          {acts}
          <Button look="text" onClick={() => setIsAnswering(true)}>
            Answer…
          </Button>{' '}
          <Button look="text" onClick={() => void turn()}>
            {remark.isSettled ? 'Not settled' : 'Settled'}
          </Button>
        </p>
      )}
      {isAnswering && (
        <RemarkForm
          project={project}
          label="Your answer"
          deed={isSending ? 'Sending …' : 'Answer'}
          onCancel={() => setIsAnswering(false)}
          onWritten={({ text }) => void answer(text)}
        />
      )}
    </div>
  )
}

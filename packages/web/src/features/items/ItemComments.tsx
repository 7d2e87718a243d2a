import type { Item } from '@dystracer/core/contract/items'
import { useState } from 'react'
import { toast } from 'sonner'
import { useActMutation, useCommentsQuery } from '../../shared/lib/api'
import { problemText } from '../../shared/lib/problem-text'
import { usePeople } from '../../shared/lib/use-people'
import { TextArea } from '../../shared/ui/fields'
import { Markdown } from '../../shared/ui/Markdown'
import { Button, SectionHead, When } from '../../shared/ui/parts'

export function ItemComments({ item }: { item: Item }) {
  const { data } = useCommentsQuery(item.key)
  const people = usePeople()
  const [text, setText] = useState('')
  const [act, { isLoading }] = useActMutation()
  const send = async () => {
    const result = await act({ key: item.key, act: 'comments', body: { text } })
    if (result.error) toast.error(problemText(result.error))
    else setText('')
  }
  return (
    <div className="border-t border-edge px-4 py-3">
      <SectionHead>Comments</SectionHead>
      {data?.rows.map((comment) => (
        <article key={comment.commentId} className="mb-2 border-b border-edge-soft pb-1">
          <p className="text-[12px] text-ink-2">
            <b>{people.nameOf(comment.by)}</b> <When atMs={comment.atMs} />
          </p>
          <Markdown text={comment.text} />
        </article>
      ))}
      {people.may('member') && (
        <form
          onSubmit={(event) => {
            event.preventDefault()
            void send()
          }}
        >
          <TextArea
            aria-label="Comment"
            rows={2}
            placeholder="Say something; EMB-1 ties, “Time: 30m” on a last line books time"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          <Button type="submit" disabled={isLoading || text.trim() === ''} className="mt-1">
            Comment
          </Button>
        </form>
      )}
      {!people.may('member') && data?.rows.length === 0 && <p className="text-ink-3">Nobody has said anything yet.</p>}
    </div>
  )
}

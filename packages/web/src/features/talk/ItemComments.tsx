import { keepDraft, readDraft } from '#shared/lib/drafts'
import { Redline } from '#features/history/index'
import type { Comment } from '@dystracer/core/talk/wire'
import type { Item } from '@dystracer/core/items/wire'
import { formatMinutes } from '@dystracer/core/text/duration'
import { Suspense, useEffect, useState } from 'react'
import { toast } from 'sonner'
import { useActMutation } from '#features/items/items.api'
import { useCommentRevisionsQuery, useCommentsQuery, useEditCommentMutation, usePreviewCommentMutation, useReactMutation } from './talk.api'
import type { Answer } from '#shared/lib/api'
import { problemText } from '#shared/lib/problem-text'
import { useDelayed } from '#shared/lib/use-delayed'
import { usePeople } from '#features/people/index'
import { Markdown } from '#shared/ui/Markdown'
import { ReactionRow } from '#shared/ui/ReactionRow'
import { MarkdownEditor } from '#shared/editors/MarkdownEditor'
import { Button, SectionHead, When } from '#shared/ui/parts'
import { useUploads } from './AttachmentList'
import { useCompletions } from './use-completions'

export function ItemComments({ item }: { item: Item }) {
  const [cursor, setCursor] = useState<string>()
  const first = useCommentsQuery({ key: item.key })
  const more = useCommentsQuery({ key: item.key, ...(cursor && { cursor }) }, { skip: !cursor })
  const [replyTo, setReplyTo] = useState<Comment | null>(null)
  const [quote, setQuote] = useState('')
  const people = usePeople()
  const rows = [...(first.data?.rows ?? []), ...(cursor ? (more.data?.rows ?? []) : [])]
  const next = cursor ? more.data?.nextCursor : first.data?.nextCursor
  const roots = rows.filter((row) => row.replyTo === null || !rows.some((other) => other.commentId === row.replyTo))
  const answer = (comment: Comment, isQuoting: boolean) => {
    setReplyTo(comment)
    setQuote(
      isQuoting
        ? `${comment.text
            .split('\n')
            .map((line) => `> ${line}`)
            .join('\n')}\n\n`
        : '',
    )
  }
  return (
    <section aria-label="Comments" className="border-t border-edge px-4 py-3">
      <SectionHead>Comments{first.data?.total ? ` (${first.data.total})` : ''}</SectionHead>
      {roots.map((comment) => (
        <div key={comment.commentId}>
          <CommentView item={item} comment={comment} onAnswer={answer} />
          {rows
            .filter((reply) => reply.replyTo === comment.commentId)
            .map((reply) => (
              <div key={reply.commentId} className="ml-5 border-l-2 border-edge-soft pl-2">
                <CommentView
                  item={item}
                  comment={reply}
                  onAnswer={(_reply, isQuoting) => answer({ ...reply, commentId: comment.commentId }, isQuoting)}
                />
              </div>
            ))}
        </div>
      ))}
      {next && (
        <Button look="text" onClick={() => setCursor(next)}>
          Later comments
        </Button>
      )}
      {people.may('talk.write') ? (
        <CommentForm
          key={`${replyTo?.commentId ?? ''}${quote}`}
          item={item}
          replyTo={replyTo}
          quote={quote}
          onDone={() => answerDone(setReplyTo, setQuote)}
        />
      ) : (
        rows.length === 0 && <p className="text-ink-3">Nobody has said anything yet.</p>
      )}
    </section>
  )
}

function answerDone(setReplyTo: (comment: null) => void, setQuote: (text: string) => void): void {
  setReplyTo(null)
  setQuote('')
}

function CommentView({
  item,
  comment,
  onAnswer,
}: {
  item: Item
  comment: Comment
  onAnswer: (comment: Comment, isQuoting: boolean) => void
}) {
  const people = usePeople()
  const [react] = useReactMutation()
  const [edit] = useEditCommentMutation()
  const [draft, setDraft] = useState<string | null>(null)
  const [isHistoryOpen, setIsHistoryOpen] = useState(false)
  const completions = useCompletions(draft !== null)
  const mine = people.me?.person?.personId
  const isMine = comment.by === `person:${mine}`
  const save = async () => {
    const result = await edit({ key: item.key, commentId: comment.commentId, text: draft ?? '', before: comment.text })
    if (result.error) toast.error(problemText(result.error))
    else setDraft(null)
  }
  const name = comment.from ?? people.nameOf(comment.by)
  return (
    <article aria-label={`Comment by ${name}`} className="mb-2 border-b border-edge-soft pb-1">
      <p className="text-[12px] text-ink-2">
        <b>{name}</b> <When atMs={comment.atMs} />
        {comment.editedAtMs !== null && (
          <Button look="line" className="ml-2" aria-expanded={isHistoryOpen} onClick={() => setIsHistoryOpen(!isHistoryOpen)}>
            edited
          </Button>
        )}
      </p>
      {draft === null ? (
        <Markdown text={comment.text} />
      ) : (
        <>
          <MarkdownEditor
            label="Edit the comment"
            value={draft}
            onChange={setDraft}
            completions={completions}
            onSubmit={() => void save()}
          />
          <div className="my-1 flex gap-2">
            <Button look="main" onClick={() => void save()}>
              Save
            </Button>
            <Button onClick={() => setDraft(null)}>Leave as it was</Button>
          </div>
        </>
      )}
      {isHistoryOpen && <Revisions itemKey={item.key} comment={comment} />}
      {people.may('talk.write') && draft === null && (
        <p className="flex flex-wrap gap-x-3 text-[12px]">
          <ReactionRow
            reactions={comment.reactions}
            mine={mine}
            canReact
            nameOf={people.nameOf}
            onReact={(reaction, isOn) => void react({ key: item.key, commentId: comment.commentId, reaction, isOn })}
          />
          <button type="button" className="link" onClick={() => onAnswer(comment, false)}>
            answer
          </button>
          <button type="button" className="link" onClick={() => onAnswer(comment, true)}>
            quote
          </button>
          {isMine && (
            <button type="button" className="link" onClick={() => setDraft(comment.text)}>
              edit
            </button>
          )}
        </p>
      )}
    </article>
  )
}

function Revisions({ itemKey, comment }: { itemKey: string; comment: Comment }) {
  const { data } = useCommentRevisionsQuery({ key: itemKey, commentId: comment.commentId })
  const texts = [comment.text, ...(data?.rows.map((row) => row.text) ?? [])]
  return (
    <div className="text-[12px]">
      {data?.rows.map((row, index) => (
        <div key={row.atMs}>
          <When atMs={row.atMs} />
          <Suspense fallback={null}>
            <Redline before={row.text} after={texts[index] ?? ''} />
          </Suspense>
        </div>
      ))}
    </div>
  )
}

const REFUSED: Record<string, string> = {
  'no-such-person': 'there is no such person',
  'not-a-severity': 'a severity is a number from 1 to 5',
  'not-a-day': 'not a day of the calendar',
  'too-long': 'too long',
  'too-much-time': 'too much time',
}

function CommentForm({ item, replyTo, quote, onDone }: { item: Item; replyTo: Comment | null; quote: string; onDone: () => void }) {
  const draftKey = `comment/${item.key}`
  const [text, setText] = useState(() => quote || readDraft(draftKey))
  const [act, { isLoading }] = useActMutation()
  const [preview, { data }] = usePreviewCommentMutation()
  const [isOpen, setIsOpen] = useState(text !== '')
  const completions = useCompletions(isOpen)
  const { send: sendFiles } = useUploads(item.key)
  const people = usePeople()
  const settled = useDelayed(text, 300)
  // Asks the server what the text would do: the same code that will do it.
  useEffect(() => {
    if (/^[A-Za-z]+:|@\w/m.test(settled)) void preview({ key: item.key, text: settled })
  }, [settled, item.key, preview])
  const change = (value: string) => {
    setText(value)
    keepDraft(draftKey, value)
  }
  const send = async () => {
    if (text.trim() === '') return
    const result = await act({ key: item.key, act: 'comments', body: { text, ...(replyTo && { replyTo: replyTo.commentId }) } })
    if (result.error) return void toast.error(problemText(result.error))
    change('')
    onDone()
  }
  return (
    <form
      aria-label="Write a comment"
      onFocus={() => setIsOpen(true)}
      onSubmit={(event) => {
        event.preventDefault()
        void send()
      }}
    >
      {replyTo && (
        <p className="text-[12px] text-ink-2">
          Answer to {replyTo.from ?? people.nameOf(replyTo.by)}{' '}
          <Button look="line" onClick={onDone}>
            not an answer
          </Button>
        </p>
      )}
      <MarkdownEditor
        label="Comment"
        value={text}
        onChange={change}
        completions={completions}
        onFiles={sendFiles}
        onSubmit={() => void send()}
        minHeightPx={56}
        placeholder="Say something; @ names people, keys tie. On last lines: Time: 30m, Owner:, Severity:, Label:, Due:"
      />
      {data && settled.trim() !== '' && <Deeds preview={data} />}
      <Button type="submit" disabled={isLoading || text.trim() === ''} className="mt-1">
        Comment
      </Button>
    </form>
  )
}

/** What sending the comment will do beside saying it. */
function Deeds({ preview }: { preview: Answer<'previewComment'> }) {
  const people = usePeople()
  const text = (deed: Answer<'previewComment'>['deeds'][number]) => {
    switch (deed.kind) {
      case 'owner':
        return `gives it to ${String(deed.name)}`
      case 'severity':
        return `sets severity ${String(deed.value)}`
      case 'label':
        return `adds the label ${String(deed.label)}`
      case 'due':
        return `makes it due on ${String(deed.on)}`
      default:
        return `books ${formatMinutes(Number(deed.minutes))}${deed.on ? ` on ${String(deed.on)}` : ''}`
    }
  }
  const lines = [
    ...preview.deeds.map((deed) => ({ isGood: true, line: text(deed) })),
    ...preview.refused.map((entry) => ({
      isGood: false,
      line: `“${entry.trailer}” will do nothing: ${REFUSED[entry.code] ?? entry.code}`,
    })),
    ...preview.mentions.map((entry) =>
      entry.maySee
        ? { isGood: true, line: `tells ${people.nameOf(entry.personId)}` }
        : { isGood: false, line: `${people.nameOf(entry.personId)} may not see this item and will not be told` },
    ),
  ]
  if (lines.length === 0) return null
  return (
    <ul aria-label="What this will do" className="m-0 mt-1 list-none p-0 text-[12px]">
      {lines.map(({ isGood, line }) => (
        <li key={line} className={isGood ? 'text-proof' : 'text-ochre'}>
          {line}
        </li>
      ))}
    </ul>
  )
}

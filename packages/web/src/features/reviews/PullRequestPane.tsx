import type { PullRequestDetail } from '@dystracer/core/code/wire'
import type { Review } from '@dystracer/core/reviews/wire'
import { useState } from 'react'
import { toast } from 'sonner'
import { CarryActs, ChangePullRequestDialog } from '#features/code/index'
import { TiesOf } from '#features/ties/index'
import { useChangePullRequestMutation, usePullRequestQuery } from '#features/code/code.api'
import { historyText } from '#features/history/index'
import { usePeople } from '#features/people/index'
import { problemText } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Markdown } from '#shared/ui/Markdown'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { GateList } from './GateList'
import { MergeDialog } from './MergeDialog'
import { Reviewers } from './Reviewers'
import { useReviewQuery, useWantMergeMutation } from './reviews.api'
import { VerdictDialog } from './VerdictDialog'

/** A change as it is judged: why it is made, what has to hold before it is merged, who looked; its lines stand to the right. */
export function PullRequestPane({ id }: { id: string }) {
  const { data, error, isLoading } = usePullRequestQuery(id)
  const review = useReviewQuery(id)
  const { may } = usePeople()
  const trail = usePaneTrail()
  if (!data)
    return (
      <Pane label="Pull request" title={id}>
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  const whole = `${data.repository}/${data.number}`
  return (
    <Pane
      label={`Pull request ${data.number}`}
      title={
        <>
          Pull request {data.number} <span className="text-[13px] font-normal text-ink-2">{data.repository}</span>
        </>
      }
      aside={
        <>
          <Button look="text" onClick={() => trail.open({ kind: 'review', id: whole })}>
            files
          </Button>
          {data.items.length === 1 && (
            <Button look="text" onClick={() => trail.open({ kind: 'whole-change', id: data.items[0] ?? '' })}>
              all of {data.items[0]}
            </Button>
          )}
          <span className={data.state === 'open' ? 'font-bold' : ''}>{data.isDraft ? 'draft' : data.state}</span>
        </>
      }
      foot={may('code.contribute') && review.data && <Deeds id={whole} row={data} review={review.data} />}
    >
      <div className="px-4 py-3">
        <h3 className="text-[15px] font-bold">{data.title}</h3>
        <p className="text-ink-2">
          {data.author}, <When atMs={data.createdAtMs} /> ·{' '}
          <span className="font-mono text-[12px]">
            {data.head} → {data.base}
          </span>
        </p>
        <section aria-label="Why" className="mt-3">
          <SectionHead>Why</SectionHead>
          <TiesOf to={{ kind: 'pull-request', id: whole }} />
          {review.data?.requirements.map(({ key, title }) => (
            <p key={key} className="my-1 font-serif text-[15px] leading-6">
              <ThingLink to={{ kind: 'requirement', id: key }} /> {title}
            </p>
          ))}
          {data.body.trim() && <Markdown text={data.body} />}
        </section>
        <Pending error={review.error} isLoading={review.isLoading} />
        {review.data && (
          <>
            <GateList gates={review.data.gates} base={data.base} />
            <AtHost status={review.data.atHost} />
            {data.build && (
              <p className="mt-1 text-[12px] text-ink-2">
                Newest build: <ThingLink to={{ kind: 'build', id: `${data.repository}/${data.build.number}` }} /> {data.build.state}
              </p>
            )}
            <Reviewers id={whole} review={review.data} canAsk={data.state === 'open' && may('code.contribute')} />
          </>
        )}
        <section aria-label="Commits" className="mt-3">
          <SectionHead>Commits</SectionHead>
          {data.commits.map((commit) => (
            <p key={commit.sha} className="m-0 leading-6">
              <ThingLink to={{ kind: 'commit', id: `${data.repository}/${commit.sha}` }} /> {commit.subject}
            </p>
          ))}
        </section>
        {review.data && <Happened review={review.data} />}
      </div>
    </Pane>
  )
}

/** What people see of it at its code host. */
function AtHost({ status }: { status: Review['atHost'] }) {
  if (status === null) return null
  return (
    <p className="mt-1 text-[12px] text-ink-2">
      {status.trouble === null ? (
        <>
          Its code host shows this, too; told <When atMs={status.atMs} />
        </>
      ) : (
        <>
          {status.summary !== '' && `Its code host still shows: ${status.summary}. `}
          <span className="text-fault">It could not be told anew: {status.trouble}</span>
        </>
      )}
    </p>
  )
}

/** What happened to it, newest first. */
function Happened({ review }: { review: Review }) {
  const { nameOf } = usePeople()
  return (
    <section aria-label="What happened" className="mt-3">
      <SectionHead>What happened</SectionHead>
      <ul className="m-0 list-none p-0 text-[12px]">
        {review.happened.map(({ seq, kind, atMs, by, facts }) => (
          <li key={seq} className="flex gap-3 py-0.5">
            <span className="w-[84px] shrink-0 text-ink-3">
              <When atMs={atMs} />
            </span>
            <span className="min-w-0">
              {by?.startsWith('person:') ? nameOf(by) : (by ?? '').replace(/^source:/, '')} {historyText({ kind, facts }, nameOf)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** What can be done with a change: judged, merged now or once all holds; changed, closed and opened again where it lives here. */
function Deeds({ id, row, review }: { id: string; row: PullRequestDetail; review: Review }) {
  const { me, nameOf } = usePeople()
  const [want, { isLoading: isDropping }] = useWantMergeMutation()
  const [change, { isLoading: isChanging }] = useChangePullRequestMutation()
  const [open, setOpen] = useState<'words' | 'verdict' | 'merge' | null>(null)
  const told = (result: { error?: unknown }, words: string) =>
    void (result.error ? toast.error(problemText(result.error)) : toast.success(words))
  const isOpen = row.state === 'open'
  const isReady = review.gates.every(({ isMet }) => isMet)
  const close = () => setOpen(null)
  return (
    <div className="flex flex-wrap items-baseline gap-3">
      {isOpen && (
        <Button look="main" onClick={() => setOpen('merge')}>
          {isReady ? 'Merge…' : 'Merge once all holds…'}
        </Button>
      )}
      {isOpen && <Button onClick={() => setOpen('verdict')}>Say what you found…</Button>}
      {review.wish && (
        <span className="text-ink-2">
          {nameOf(review.wish.by)} wants it merged once all holds.{' '}
          <Button
            look="text"
            disabled={isDropping}
            onClick={() => void want({ id, method: null }).then((result) => told(result, 'It waits no more'))}
          >
            not any more
          </Button>
        </span>
      )}
      {row.state === 'merged' && row.mergeSha !== null && <CarryActs repository={row.repository} sha={row.mergeSha} />}
      {row.isOurs && row.state !== 'merged' && (
        <>
          <Button look="line" onClick={() => setOpen('words')}>
            Change what it says…
          </Button>
          <Button
            look="line"
            disabled={isChanging}
            onClick={() =>
              void change({ id, state: isOpen ? 'closed' : 'open' }).then((result) => told(result, isOpen ? 'Closed' : 'Open again'))
            }
          >
            {isOpen ? 'Close it' : 'Open it again'}
          </Button>
          {isOpen && (
            <Button
              look="line"
              disabled={isChanging}
              onClick={() =>
                void change({ id, isDraft: !row.isDraft }).then((result) => told(result, row.isDraft ? 'It is ready' : 'It is a draft'))
              }
            >
              {row.isDraft ? 'It is ready' : 'Not ready yet'}
            </Button>
          )}
        </>
      )}
      {open === 'words' && (
        <ChangePullRequestDialog
          id={id}
          words={{ title: row.title, text: row.body, target: row.base }}
          repository={row.repository}
          onClose={close}
        />
      )}
      {open === 'verdict' && (
        <VerdictDialog id={id} canAgree={me?.person != null && review.canAgree.includes(me.person.personId)} onClose={close} />
      )}
      {open === 'merge' && <MergeDialog id={id} review={review} isOurs={row.isOurs} onClose={close} />}
    </div>
  )
}

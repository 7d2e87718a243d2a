import type { Review, ReviewerRow } from '@dystracer/core/reviews/wire'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { Choose } from '#shared/ui/fields'
import { Button, SectionHead, When } from '#shared/ui/parts'
import { useAskReviewMutation, useReviewerProposalsQuery } from './reviews.api'
import { Stroke, type Standing } from './Stroke'

type Verdict = Review['verdicts'][number]

/** Who looked and what they say, who is asked and since when; and asking another. */
export function Reviewers({ id, review, canAsk }: { id: string; review: Review; canAsk: boolean }) {
  const { nameOf } = usePeople()
  const [ask, { isLoading }] = useAskReviewMutation()
  const known = new Set([
    ...review.asked.map(({ personId }) => personId),
    ...review.verdicts.filter(({ fell }) => fell === null).map(({ personId }) => personId),
  ])
  const others = review.canAgree.filter((personId) => !known.has(personId))
  const asking = (personId: string, isOn: boolean) =>
    void ask({ id, personId, isOn }).then((result) => {
      if (result.error) toast.error(problemText(result.error))
      else toast.success(isOn ? `${nameOf(personId)} is asked` : `${nameOf(personId)} is asked no more`)
    })
  return (
    <section aria-label="Who has looked" className="mt-3">
      <SectionHead>Who has looked</SectionHead>
      <ul className="m-0 list-none p-0">
        {review.verdicts.map((verdict) => (
          <li key={verdict.personId} className="flex gap-3 border-b border-edge-soft py-1">
            <Stroke standing={standingOf(verdict)} />
            <span className="min-w-0 flex-1">
              {nameOf(verdict.personId)} {wordsOf(verdict)}
              {verdict.words && <span className="block whitespace-pre-wrap text-ink-2">{verdict.words}</span>}
            </span>
            <span className="text-[12px] text-ink-3">
              <When atMs={verdict.atMs} />
            </span>
            {canAsk && verdict.fell === 'changed' && !known.has(verdict.personId) && (
              <Button
                look="line"
                disabled={isLoading}
                onClick={() => asking(verdict.personId, true)}
                aria-label={`ask anew: ${nameOf(verdict.personId)}`}
              >
                ask anew
              </Button>
            )}
          </li>
        ))}
        {review.asked.map(({ personId, by, atMs }) => (
          <li key={personId} className="flex gap-3 border-b border-edge-soft py-1">
            <Stroke standing="open" />
            <span className="min-w-0 flex-1 text-ink-2">
              {nameOf(personId)} is asked by {by === 'source:git' ? 'the commit itself' : nameOf(by)}
            </span>
            <span className="text-[12px] text-ink-3">
              <When atMs={atMs} />
            </span>
            {canAsk && (
              <Button look="line" disabled={isLoading} onClick={() => asking(personId, false)} aria-label={`no more: ${nameOf(personId)}`}>
                no more
              </Button>
            )}
          </li>
        ))}
      </ul>
      {review.verdicts.length + review.asked.length === 0 && <p className="m-0 text-ink-3">Nobody yet.</p>}
      {canAsk && <Proposed id={id} isLoading={isLoading} onAsk={(personId) => asking(personId, true)} />}
      {canAsk && others.length > 0 && (
        <Choose
          aria-label="Ask somebody to look"
          className="mt-1 w-auto! py-0.5!"
          value=""
          none="ask somebody to look…"
          choices={others.map((personId) => ({ value: personId, label: nameOf(personId) }))}
          onChange={({ target }) => target.value && asking(target.value, true)}
        />
      )}
    </section>
  )
}

/** Whom to ask, with why: who looks after its paths, who knows its files, and what waits for them already. */
function Proposed({ id, isLoading, onAsk }: { id: string; isLoading: boolean; onAsk: (personId: string) => void }) {
  const { nameOf } = usePeople()
  const { data } = useReviewerProposalsQuery(id)
  return (
    <ul aria-label="Whom to ask" className="m-0 list-none p-0">
      {data?.rows.map((row) => (
        <li key={row.personId} className="flex gap-3 py-0.5">
          <span className="min-w-0 flex-1 truncate text-ink-2" title={row.owned.join('\n')}>
            {nameOf(row.personId)} {whyOf(row)}
          </span>
          <Button look="line" disabled={isLoading} aria-label={`ask ${nameOf(row.personId)}`} onClick={() => onAsk(row.personId)}>
            ask
          </Button>
        </li>
      ))}
    </ul>
  )
}

function whyOf({ owned, commits, waiting }: ReviewerRow): string {
  const [first] = owned
  return [
    first && `looks after ${first}${owned.length > 1 ? ` and ${owned.length - 1} more` : ''}`,
    commits > 0 && `made ${plural(commits, 'commit')} of these files`,
    waiting > 0 && `${plural(waiting, 'change')} ${waiting === 1 ? 'waits' : 'wait'} already`,
  ]
    .filter(Boolean)
    .join('; ')
}

function standingOf({ verdict, fell }: Verdict): Standing {
  if (verdict === 'changes-asked') return 'fails'
  if (verdict === 'remarked') return 'open'
  return fell === null ? 'holds' : 'look'
}

function wordsOf({ verdict, fell }: Verdict): string {
  if (verdict === 'changes-asked') return 'asks for changes'
  if (verdict === 'remarked') return 'remarked'
  return fell === null ? 'agrees' : fell === 'changed' ? 'agreed with what it was before: it changed since' : 'agreed, and wrote part of it'
}

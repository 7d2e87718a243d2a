import type { ReportState } from '@dystracer/core/incoming/wire'
import { useForm } from 'react-hook-form'
import { useAnswerReportMutation, useReportStateQuery } from './incoming.api'
import { Field, TextArea } from '#shared/ui/fields'
import { Button, Pending, Refusal, When } from '#shared/ui/parts'

const STATE_TEXT: Record<ReportState['state'], string> = {
  waits: 'It waits for somebody to look at it.',
  asked: 'We have a question before we can go on.',
  accepted: 'It is accepted: we will work on it.',
  underway: 'Somebody is working on it.',
  fixed: 'It is fixed. The fix is not in use yet.',
  released: 'The fix is in use. We are watching whether it holds.',
  verified: 'It is fixed, and we have made sure of it.',
  'same-as': 'It is the same as another report, where it is followed up.',
  rejected: 'It will not be changed.',
  'came-back': 'It was fixed and has come back. We are looking at it again.',
}
const DISPOSITION_TEXT: Record<NonNullable<ReportState['disposition']>, string> = {
  duplicate: 'It is the same as another report.',
  'works-as-required': 'It works as it is required to.',
  'cannot-reproduce': 'We could not make it happen.',
  'will-not-fix': 'We decided not to change it.',
  deferred: 'We put it off for now.',
}

/** What became of a report, in plain words, for the reporter who holds its private link. */
export function FollowPage({ token }: { token: string }) {
  const { data, error, isLoading } = useReportStateQuery(token)
  const [answer, answering] = useAnswerReportMutation()
  const { register, handleSubmit, watch, reset } = useForm({ defaultValues: { text: '' } })
  return (
    <main className="mx-auto mt-[8vh] w-[min(560px,94vw)] rounded-[4px] border border-edge bg-sheet px-5 py-4">
      <h1 className="text-[17px] font-bold">{data ? data.title : 'Your report'}</h1>
      <Pending error={error} isLoading={isLoading} />
      {data && (
        <>
          <p className="text-[12px] text-ink-2">
            Reported <When atMs={data.reportedAtMs} />
          </p>
          <p role="status" className="mt-3 text-[15px] font-bold">
            {data.disposition ? DISPOSITION_TEXT[data.disposition] : STATE_TEXT[data.state]}
          </p>
          {data.sameAsState && <p className="mt-1">{STATE_TEXT[data.sameAsState as ReportState['state']]}</p>}
          {data.words !== '' && <blockquote className="mx-0 my-3 border-l-2 border-edge pl-3 whitespace-pre-line">{data.words}</blockquote>}
          {data.answers.length > 0 && (
            <section aria-label="What you told us" className="mt-3 border-t border-edge pt-2">
              {data.answers.map((entry) => (
                <p key={`${entry.atMs}${entry.text}`} className="whitespace-pre-line">
                  <span className="text-[12px] text-ink-3">
                    You, <When atMs={entry.atMs} />:
                  </span>{' '}
                  {entry.text}
                </p>
              ))}
            </section>
          )}
          <form
            className="mt-3 space-y-2 border-t border-edge pt-3"
            onSubmit={(event) =>
              void handleSubmit(async ({ text }) => {
                const result = await answer({ token, text: text.trim() })
                if (!result.error) reset()
              })(event)
            }
          >
            <Field label={data.state === 'asked' ? 'Your answer' : 'Tell us more'}>
              <TextArea rows={4} maxLength={20_000} {...register('text')} />
            </Field>
            <Refusal error={answering.error} />
            <Button look="main" type="submit" disabled={watch('text').trim() === '' || answering.isLoading}>
              Send
            </Button>
          </form>
        </>
      )}
    </main>
  )
}

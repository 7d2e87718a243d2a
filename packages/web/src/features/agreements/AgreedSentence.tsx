import type { AgreementDetail } from '@dystracer/core/agreements/wire'
import { plainText } from '@dystracer/core/requirements/plain-text'
import { Suspense, useRef } from 'react'
import { useForm } from 'react-hook-form'
import { Redline } from '#features/history/index'
import { usePeople } from '#features/people/index'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { TextArea } from '#shared/ui/fields'
import { Button, Refusal, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { chosenIn } from './chosen-words'
import { useRemarkOnMutation, useSettleAgreementRemarkMutation } from './agreements.api'

type Row = AgreementDetail['rows'][number]

/** A requirement that is asked for: how it reads (with what changed since one agreed), who agreed, and the remarks on it. */
export function AgreedSentence({
  data,
  row,
  personId,
  isAsked,
  remarking,
  onSay,
  onRemark,
}: {
  data: AgreementDetail
  row: Row
  personId: string | null
  isAsked: boolean
  /** The words that a remark is being made on; null for none. */
  remarking: string | null
  onSay: (isOn: boolean) => void
  onRemark: (quote: string | null) => void
}) {
  const { nameOf } = usePeople()
  const text = useRef<HTMLDivElement>(null)
  const hasAgreed = personId !== null && row.agreedBy.includes(personId)
  return (
    <li data-asked={row.key} tabIndex={0} className="border-b border-edge-soft px-4 py-2 focus:bg-mark">
      <div className="flex items-start gap-3">
        <span className="w-[56px] shrink-0 pt-[3px]">
          <ThingLink to={{ kind: 'requirement', id: row.key }} />
        </span>
        <div ref={text} className="min-w-0 flex-1 font-serif text-[15px] leading-[22px] whitespace-pre-line">
          {row.seen ? (
            <Suspense fallback={plainText(row.text)}>
              <Redline before={row.seen.text} after={row.text} />
            </Suspense>
          ) : (
            plainText(row.text) || row.title
          )}
        </div>
        <div className="w-[150px] shrink-0 text-[12px]">
          {row.agreedBy.length > 0 && <p className="text-proof">✓ {row.agreedBy.map(nameOf).join(', ')}</p>}
          {row.outdatedBy.length > 0 && <p className="text-ochre">to an older text: {row.outdatedBy.map(nameOf).join(', ')}</p>}
          {row.waitsFor.length > 0 && <p className="text-ink-2">waits for {row.waitsFor.map(nameOf).join(', ')}</p>}
        </div>
      </div>
      <p className="mt-1 ml-[68px] flex gap-4 text-[12px]">
        {isAsked && (
          <Button look="line" onClick={() => onSay(!hasAgreed)} aria-label={hasAgreed ? `Take back, ${row.key}` : `I agree to ${row.key}`}>
            {hasAgreed ? 'take it back' : 'I agree'}
          </Button>
        )}
        {data.ended === null && remarking === null && (
          <Button
            look="line"
            aria-label={`Remark on ${row.key}`}
            // A press on a button would let go of the words that are marked.
            onMouseDown={(event) => event.preventDefault()}
            onClick={() => onRemark(chosenIn(text.current))}
          >
            remark…
          </Button>
        )}
      </p>
      {row.remarks.map((remark) => (
        <Remark key={remark.remarkId} data={data} remark={remark} revision={row.revision} />
      ))}
      {remarking !== null && <RemarkForm data={data} row={row} quote={remarking} onDone={() => onRemark(null)} />}
    </li>
  )
}

function Remark({ data, remark, revision }: { data: AgreementDetail; remark: Row['remarks'][number]; revision: number }) {
  const { me, nameOf, may } = usePeople()
  const [settle, { isLoading }] = useSettleAgreementRemarkMutation()
  const isSettled = remark.settledBy !== null
  const mayEnd = data.ended === null && (may('requirements.write') || remark.by === `person:${me?.person?.personId}`)
  return (
    <div className={`mt-1 ml-[68px] border-l-2 pl-2 ${isSettled ? 'border-edge text-ink-3' : 'border-ochre'}`}>
      {remark.quote !== '' && <p className="font-serif text-ink-2 italic">“{remark.quote}”</p>}
      <p className="whitespace-pre-line">{remark.text}</p>
      <p className="text-[12px] text-ink-2">
        {nameOf(remark.by)}, <When atMs={remark.atMs} />
        {remark.revision !== revision && `, on revision ${remark.revision}`}
        {isSettled && `, settled by ${nameOf(remark.settledBy)}`}{' '}
        {mayEnd && (
          <Button
            look="line"
            disabled={isLoading}
            onClick={() =>
              void settle({ project: data.project, agreementId: data.agreementId, remarkId: remark.remarkId, isSettled: !isSettled }).then(
                tellRefusal,
              )
            }
          >
            {isSettled ? 'open it again' : 'settled'}
          </Button>
        )}
      </p>
    </div>
  )
}

function RemarkForm({ data, row, quote, onDone }: { data: AgreementDetail; row: Row; quote: string; onDone: () => void }) {
  const [remark, { error, isLoading }] = useRemarkOnMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { text: '' } })
  const submit = handleSubmit(async ({ text }) => {
    const result = await remark({ project: data.project, agreementId: data.agreementId, key: row.key, quote, text })
    if (!result.error) onDone()
  })
  return (
    <form
      aria-label={`Remark on ${row.key}`}
      className="mt-1 ml-[68px]"
      onSubmit={(event) => void submit(event)}
      onKeyDown={(event) => {
        event.stopPropagation()
        if (event.key === 'Escape') onDone()
        if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void submit()
      }}
    >
      {quote === '' ? (
        <p className="text-[12px] text-ink-2">On the whole of it; mark words before to remark on those.</p>
      ) : (
        <p className="font-serif text-ink-2 italic">“{quote}”</p>
      )}
      <TextArea aria-label="What you say" autoFocus rows={2} maxLength={4000} {...register('text', { required: true })} />
      <Refusal error={error} />
      <p className="mt-1 flex gap-3">
        <Button look="main" type="submit" disabled={isLoading}>
          Say it
        </Button>
        <Button onClick={onDone}>Not now</Button>
      </p>
    </form>
  )
}

import type { AgreementDetail } from '@dystracer/core/agreements/wire'
import { useRef, useState, type KeyboardEvent } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { actionOf } from '#shared/lib/keys'
import { problemText } from '#shared/lib/problem-text'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending } from '#shared/ui/parts'
import { AgreedSentence } from './AgreedSentence'
import { AskDialog } from './AskDialog'
import { chosenIn } from './chosen-words'
import { EndPart } from './EndPart'
import { useAgreementQuery, useAgreeToMutation } from './agreements.api'

/** A set of requirements that people are asked to agree to: each as it reads, who agreed, and what was remarked. */
export function AgreementPane({ id }: { id: string }) {
  const [project = '', agreementId = ''] = id.split('/')
  const { data, error, isLoading } = useAgreementQuery({ project, agreementId })
  const { may } = usePeople()
  const [isChanging, setIsChanging] = useState(false)
  return (
    <Pane
      label="Agreement"
      title={data?.name ?? 'Agreement'}
      aside={
        data &&
        data.ended === null &&
        may('requirements.write') && (
          <Button look="text" onClick={() => setIsChanging(true)}>
            change…
          </Button>
        )
      }
    >
      <Pending error={error} isLoading={isLoading} />
      {data && <Asked key={data.agreementId} data={data} />}
      {data && isChanging && <AskDialog project={project} agreement={data} onClose={() => setIsChanging(false)} />}
    </Pane>
  )
}

function Asked({ data }: { data: AgreementDetail }) {
  const { me, nameOf } = usePeople()
  const root = useRef<HTMLOListElement>(null)
  const [remarking, setRemarking] = useState<{ key: string; quote: string } | null>(null)
  const [agree, { isLoading }] = useAgreeToMutation()
  const personId = me?.person?.personId ?? null
  const isAsked = data.ended === null && data.people.some((one) => one.personId === personId)
  const open = data.rows.filter(({ agreedBy }) => personId !== null && !agreedBy.includes(personId))
  const say = async (rows: AgreementDetail['rows'], isOn = true) => {
    const verdicts = rows.map(({ key, revision }) => ({ key, revision }))
    const result = await agree({ project: data.project, agreementId: data.agreementId, verdicts, isOn })
    if (result.error) toast.error(problemText(result.error))
  }
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    const lines = [...(root.current?.querySelectorAll<HTMLElement>('[data-asked]') ?? [])]
    const at = lines.indexOf(document.activeElement as HTMLElement)
    if (at < 0) return
    const row = data.rows.find(({ key }) => key === lines[at]?.dataset.asked)
    const action = actionOf('agreement', event)
    if (action === 'next' || action === 'previous') {
      event.preventDefault()
      event.stopPropagation()
      lines[at + (action === 'next' ? 1 : -1)]?.focus()
    } else if (action === 'agree' && row && isAsked && !isLoading) {
      event.preventDefault()
      void say([row])
      lines[at + 1]?.focus()
    } else if (action === 'remark' && row && data.ended === null) {
      event.preventDefault()
      setRemarking({ key: row.key, quote: chosenIn(lines[at]) })
    }
  }
  return (
    <>
      <div className="px-4 py-3">
        <p>
          <b className={data.isAgreed ? 'text-proof' : ''}>
            {data.isAgreed ? 'Everybody agreed to all of it.' : `${data.agreed} of ${data.total} agreed by all.`}
          </b>{' '}
          {data.people.map((one) => `${nameOf(one.personId)} ${one.agreed}`).join(', ')}
          {data.dueOn !== null && `; by ${data.dueOn}`}.
        </p>
        {data.words !== '' && <p className="text-ink-2">{data.words}</p>}
        {isAsked && open.length > 0 && (
          <p className="mt-1 flex items-baseline gap-3">
            <Button look="main" disabled={isLoading} onClick={() => void say(open)}>
              I agree to {open.length === 1 ? open[0]?.key : `all ${open.length}`}
            </Button>
            <span className="text-[12px] text-ink-2">or one by one: a agrees and goes on, c remarks on the words that are marked</span>
          </p>
        )}
      </div>
      <ol ref={root} aria-label="What is asked" className="m-0 list-none border-t border-edge p-0" onKeyDown={onKeyDown}>
        {data.rows.map((row) => (
          <AgreedSentence
            key={row.key}
            data={data}
            row={row}
            personId={personId}
            isAsked={isAsked}
            remarking={remarking?.key === row.key ? remarking.quote : null}
            onSay={(isOn) => void say([row], isOn)}
            onRemark={(quote) => setRemarking(quote === null ? null : { key: row.key, quote })}
          />
        ))}
      </ol>
      <p className="px-4 py-2 text-[12px] text-ink-2">
        {data.openRemarks === 0 ? 'No remark is open.' : `${plural(data.openRemarks, 'remark')} still open.`}
      </p>
      <EndPart data={data} />
    </>
  )
}

import type { Item } from '@dystracer/core/items/wire'
import type { Stage } from '@dystracer/core/ladder/ladder'
import { useForm } from 'react-hook-form'
import { useState } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { problemText } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextArea } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'
import { useActMutation } from './items.api'

/** What can be done about a stage that somebody claims: somebody who may stands for it with a reason, or it is taken back. */
export function ClaimActs({ item, stage, isAccepted = false }: { item: Item; stage: Stage; isAccepted?: boolean }) {
  const { me, may } = usePeople()
  const [act, { isLoading }] = useActMutation()
  const [isAccepting, setIsAccepting] = useState(false)
  const { register, handleSubmit, watch, reset } = useForm({ defaultValues: { words: '' } })
  const said = item.ladder.treads.find((tread) => tread.stage === stage)?.evidence.find(({ code }) => code === 'claimed-by')
  const isOwn = said?.by === `person:${me?.person?.personId}`
  const canAccept = may('claims.accept')
  const told = (text: string) => (result: { error?: unknown }) => {
    if (result.error) toast.error(problemText(result.error))
    else {
      toast.success(text)
      setIsAccepting(false)
      reset()
    }
  }
  return (
    <>
      {canAccept && !isAccepted && (
        <Button look="text" onClick={() => setIsAccepting(true)} aria-label={`accept it… ${stage}`}>
          accept it…
        </Button>
      )}{' '}
      {(canAccept || isOwn) && (
        <Button
          look="text"
          disabled={isLoading}
          aria-label={`take it back: ${stage}`}
          onClick={() => void act({ key: item.key, act: 'takeBackClaim', body: { stage } }).then(told('The claim is taken back'))}
        >
          take it back
        </Button>
      )}
      {isAccepting && (
        <Dialog title={`Accept that ${item.key} is ${stage}`} isOpen onClose={() => setIsAccepting(false)}>
          <form
            className="space-y-3 px-4 py-3"
            onSubmit={(event) =>
              void handleSubmit(async ({ words }) =>
                told('It counts from now on')(await act({ key: item.key, act: 'acceptClaim', body: { stage, words: words.trim() } })),
              )(event)
            }
          >
            <p className="m-0 text-ink-2">No evidence shows it. It counts from now on, with your name and your reason beside it.</p>
            <Field label="Why">
              <TextArea autoFocus required rows={3} maxLength={2000} {...register('words')} />
            </Field>
            <Button look="main" type="submit" disabled={isLoading || watch('words').trim() === ''}>
              Accept it
            </Button>
          </form>
        </Dialog>
      )}
    </>
  )
}

import type { Item } from '@dystracer/core/items/wire'
import type { Stage, Tread } from '@dystracer/core/ladder/ladder'
import { useForm } from 'react-hook-form'
import { useState } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { fieldProblem, problemText } from '#shared/lib/problem-text'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextArea } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
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

/**
 * For each repository that the fix is not whole in: that it needs nothing of it, with the reason; and that it does after all. For who may
 * settle items.
 */
export function UnaffectedActs({ item, tread }: { item: Item; tread: Tread }) {
  const { may } = usePeople()
  const [act, { isLoading }] = useActMutation()
  const [asked, setAsked] = useState<string | null>(null)
  if (tread.stage !== 'merged' || !may('claims.accept', item.project)) return null
  return (
    <>
      {tread.evidence.map(({ code, facts }) => {
        const repository = String(facts?.repository ?? '')
        if (code === 'repository-unaffected')
          return (
            <Button
              key={`un/${repository}`}
              look="text"
              disabled={isLoading}
              onClick={() => void act({ key: item.key, act: 'unaffected', body: { repository, words: null } }).then(tellRefusal)}
            >
              {repository} needs it after all
            </Button>
          )
        if (code !== 'fix-not-on-main' && code !== 'fix-reverted') return null
        return (
          <Button key={repository} look="text" onClick={() => setAsked(repository)}>
            {repository} needs nothing of it…
          </Button>
        )
      })}
      {asked !== null && <UnaffectedDialog item={item} repository={asked} onClose={() => setAsked(null)} />}
    </>
  )
}

function UnaffectedDialog({ item, repository, onClose }: { item: Item; repository: string; onClose: () => void }) {
  const [act, { error, isLoading }] = useActMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { words: '' } })
  const submit = handleSubmit(async ({ words }) => {
    const result = await act({ key: item.key, act: 'unaffected', body: { repository, words } })
    if (!result.error) onClose()
  })
  const wrong = fieldProblem(error, 'words')
  return (
    <Dialog title={`${repository} needs nothing of ${item.key}`} isOpen onClose={onClose}>
      <form aria-label="Why it needs nothing" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <p className="m-0 text-ink-2">The item does not wait for this repository then. Your name and the reason stand on its ladder.</p>
        <Field label="Why" error={wrong}>
          <TextArea autoFocus rows={3} maxLength={2000} {...register('words', { required: true })} />
        </Field>
        {!wrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          It needs nothing
        </Button>
      </form>
    </Dialog>
  )
}

import type { AgreementDetail } from '@dystracer/core/agreements/wire'
import { useForm } from 'react-hook-form'
import { usePeople } from '#features/people/index'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { TextInput } from '#shared/ui/fields'
import { Button, When } from '#shared/ui/parts'
import { useEndAgreementMutation } from './agreements.api'

/** How an agreement ended, or the way to end it; one that ended can go on. */
export function EndPart({ data }: { data: AgreementDetail }) {
  const { may, nameOf } = usePeople()
  const [end, { isLoading }] = useEndAgreementMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { words: '' } })
  const of = { project: data.project, agreementId: data.agreementId }
  if (data.ended !== null)
    return (
      <p className="border-t border-edge px-4 py-3">
        <b>Ended</b> by {nameOf(data.ended.by)} <When atMs={data.ended.atMs} />
        {data.ended.words !== '' && `: ${data.ended.words}`}.{' '}
        {may('requirements.write') && (
          <Button look="line" disabled={isLoading} onClick={() => void end({ ...of, isEnded: false }).then(tellRefusal)}>
            let it go on
          </Button>
        )}
      </p>
    )
  if (!may('requirements.write')) return null
  return (
    <form
      aria-label="End it"
      className="flex items-end gap-3 border-t border-edge px-4 py-3"
      onSubmit={(event) => void handleSubmit(({ words }) => end({ ...of, isEnded: true, words }).then(tellRefusal))(event)}
    >
      <span className="min-w-0 flex-1">
        <TextInput
          aria-label="What came of it"
          placeholder={data.isAgreed ? 'what came of it' : 'why it ends before everybody agreed'}
          maxLength={2000}
          {...register('words')}
        />
      </span>
      <Button type="submit" disabled={isLoading}>
        {data.isAgreed ? 'End it' : 'End it unagreed'}
      </Button>
    </form>
  )
}

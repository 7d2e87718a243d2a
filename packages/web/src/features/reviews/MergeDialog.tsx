import type { MergeMethod } from '@dystracer/core/reviews/events'
import type { Review } from '@dystracer/core/reviews/wire'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextArea } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useWantMergeMutation } from './reviews.api'

/** How a change is merged: now where all holds, else once it does; past gates only with a right and a reason. */
export function MergeDialog({ id, review, isOurs, onClose }: { id: string; review: Review; isOurs: boolean; onClose: () => void }) {
  const { may } = usePeople()
  const [want, { error, isLoading }] = useWantMergeMutation()
  const isReady = review.gates.every(({ isMet }) => isMet)
  const { register, handleSubmit, watch } = useForm<{ method: MergeMethod; isPassedOver: boolean; passOver: string }>({
    defaultValues: { method: 'merge', isPassedOver: false, passOver: '' },
  })
  const isPassedOver = watch('isPassedOver')
  const submit = handleSubmit(async ({ method, passOver }) => {
    const result = await want({ id, method, passOver: isPassedOver ? passOver.trim() : '' })
    if (result.error) return
    toast.success(isReady || isPassedOver ? 'Merged' : 'It is merged by itself once all holds')
    onClose()
  })
  return (
    <Dialog title={isReady ? 'Merge it' : 'Merge it once all holds'} isOpen onClose={onClose}>
      <form aria-label="Merge" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="How">
          <Choose
            {...register('method')}
            choices={[
              { value: 'merge', label: 'as it is: all its commits, and a merge' },
              ...(isOurs
                ? [
                    { value: 'squash' as const, label: 'as one commit; the branch goes' },
                    { value: 'rebase' as const, label: 'its commits anew, one after the other, without a merge' },
                  ]
                : []),
            ]}
          />
        </Field>
        {!isReady && may('gates.pass-over') && (
          <label className="flex items-center gap-2">
            <input type="checkbox" {...register('isPassedOver')} /> merge it now, though not all holds
          </label>
        )}
        {isPassedOver && (
          <Field label="Why, for everybody who asks later">
            <TextArea rows={3} maxLength={2000} {...register('passOver', { required: true })} />
          </Field>
        )}
        <Refusal error={error} />
        <Button look="main" type="submit" disabled={isLoading || (isPassedOver && watch('passOver').trim() === '')}>
          {isLoading ? 'Working …' : isReady || isPassedOver ? 'Merge now' : 'Merge once all holds'}
        </Button>
      </form>
    </Dialog>
  )
}

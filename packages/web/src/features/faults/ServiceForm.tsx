import type { ConnectedService } from '@dystracer/core/faults/services-wire'
import { FormProvider, useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { plural, splitWords } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { Field, TextArea } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'
import { BuiltFrom } from './BuiltFrom'
import { useChangeServiceMutation } from './faults.api'

/** What a service is built from, and whose code is whose where its files and the language's conventions do not say it. */
export function ServiceForm({ row, onDone }: { row: ConnectedService; onDone: () => void }) {
  const [change, { isLoading }] = useChangeServiceMutation()
  const form = useForm({
    defaultValues: {
      repository: row.repository ?? '',
      tagPrefix: row.tagPrefix ?? '',
      pathPrefix: row.pathPrefix,
      own: row.ownCode.join('\n'),
      foreign: row.foreignCode.join('\n'),
      includesEarlier: true,
    },
  })
  const { register, handleSubmit } = form
  const save = handleSubmit(async ({ own, foreign, ...rest }) => {
    const result = await change({
      service: row.service,
      body: { ...rest, ownCode: splitWords(own, '\n'), foreignCode: splitWords(foreign, '\n') },
    })
    if (result.error) return void toast.error(problemText(result.error))
    const { merged, made } = result.data
    toast.success(
      rest.includesEarlier && merged + made > 0
        ? `Saved; ${plural(merged, 'fault')} went into others, ${plural(made, 'fault')} came out of others`
        : `Saved; it holds for what comes${rest.includesEarlier ? ', and changes nothing of what is there' : ''}`,
    )
    onDone()
  })
  return (
    <form aria-label={`What ${row.service} is built from`} className="space-y-2" onSubmit={(event) => void save(event)}>
      <div className="flex flex-wrap items-end gap-2">
        <FormProvider {...form}>
          <BuiltFrom />
        </FormProvider>
      </div>
      <div className="grid grid-cols-2 gap-2">
        <Field label="Always our code: paths or packages, one a line">
          <TextArea className="h-[64px] font-mono text-[12px]" placeholder={'packages/shared\norg.example.shared'} {...register('own')} />
        </Field>
        <Field label="Never our code">
          <TextArea className="h-[64px] font-mono text-[12px]" placeholder={'src/vendor\nlib/*_generated.py'} {...register('foreign')} />
        </Field>
      </div>
      <p className="text-[12px] text-ink-2">
        Besides these, a frame is ours when its file is tracked at the release that it came from, and by the conventions of its language.
      </p>
      <div className="flex items-center gap-3">
        <label className="flex items-center gap-1.5">
          <input type="checkbox" {...register('includesEarlier')} />
          Find anew what it sent before
        </label>
        <Button look="main" type="submit" disabled={isLoading} className="ml-auto py-1!">
          Save
        </Button>
      </div>
    </form>
  )
}

import { useForm } from 'react-hook-form'
import { usePublicFormQuery, useSendPublicReportMutation } from './incoming.api'
import { Choose, Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button, Pending, Refusal } from '#shared/ui/parts'

/** The form for people without an account, where a project has opened it. */
export function PublicReportPage({ project }: { project: string }) {
  const { data, error, isLoading } = usePublicFormQuery(project)
  const [send, sending] = useSendPublicReportMutation()
  const { register, handleSubmit, reset, getValues } = useForm({
    defaultValues: { title: '', description: '', address: '', component: '' },
  })
  const isSent = sending.isSuccess
  return (
    <main className="mx-auto mt-[8vh] w-[min(560px,94vw)] rounded-[4px] border border-edge bg-sheet px-5 py-4">
      <h1 className="text-[17px] font-bold">{data ? `Tell ${data.name} what went wrong` : 'Report'}</h1>
      <Pending error={error} isLoading={isLoading} />
      {data && isSent && (
        <p role="status" className="mt-3">
          Thank you. Your report waits for somebody to look at it. Keep{' '}
          <a className="link" href={`/follow/${sending.data?.token}`}>
            this private link
          </a>
          : it tells you what becomes of it, without an account.{' '}
          <Button
            look="text"
            onClick={() => {
              sending.reset()
              reset({ ...getValues(), title: '', description: '' })
            }}
          >
            Report something else
          </Button>
        </p>
      )}
      {data && !isSent && (
        <form
          className="mt-3 space-y-3"
          onSubmit={(event) =>
            void handleSubmit(({ component, ...report }) => send({ project, ...report, component: component || null }))(event)
          }
        >
          <Field label="In one line">
            <TextInput required maxLength={200} {...register('title')} />
          </Field>
          <Field label="What did you do, what did you expect, what happened?">
            <TextArea rows={7} maxLength={20_000} {...register('description')} />
          </Field>
          <Field label="Where">
            <Choose none="not sure" {...register('component')} choices={data.components.map((name) => ({ value: name, label: name }))} />
          </Field>
          <Field label="Your e-mail address, if we may ask back">
            <TextInput type="email" maxLength={200} {...register('address')} />
          </Field>
          <Refusal error={sending.error} />
          <Button look="main" type="submit" disabled={sending.isLoading}>
            Send the report
          </Button>
        </form>
      )}
    </main>
  )
}

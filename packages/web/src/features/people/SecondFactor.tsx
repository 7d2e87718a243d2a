import { QRCodeSVG } from 'qrcode.react'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { plural } from '#shared/lib/format'
import { fieldProblem } from '#shared/lib/problem-text'
import { Copyable } from '#shared/ui/Copyable'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Pending, Refusal, SectionHead, When } from '#shared/ui/parts'
import {
  useBeginSecondFactorMutation,
  useConfirmSecondFactorMutation,
  useEndSecondFactorMutation,
  useSecondFactorQuery,
} from './people.api'

const QR_PX = 160

/** A code beside the password: set up with any authenticator, confirmed by a code of it, and ended by the password. */
export function SecondFactor() {
  const { data, error, isLoading } = useSecondFactorQuery()
  const [begin, begun] = useBeginSecondFactorMutation()
  const [end, ended] = useEndSecondFactorMutation()
  const [codes, setCodes] = useState<string[] | null>(null)
  return (
    <section aria-label="Second factor">
      <SectionHead>Second factor</SectionHead>
      <Pending error={error} isLoading={isLoading} />
      {codes && <RecoveryCodes codes={codes} onKept={() => setCodes(null)} />}
      {data?.isOn && (
        <>
          <p className="mb-1 text-ink-2">
            Since {data.sinceMs !== null && <When atMs={data.sinceMs} />} a code of your authenticator is asked for with the password;{' '}
            {plural(data.recoveryLeft, 'code')} for a lost device {data.recoveryLeft === 1 ? 'is' : 'are'} left.
          </p>
          <PasswordDeed
            label="Your second factor"
            deed="Ask for no code any more"
            error={ended.error}
            isLoading={ended.isLoading}
            onSubmit={async (password) => {
              if (!(await end({ password })).error) toast.success('Your password alone is asked for')
            }}
          />
        </>
      )}
      {data && !data.isOn && !begun.data && (
        <>
          <p className="mb-1 text-ink-2">Off. With one, a code of your authenticator is asked for beside your password.</p>
          <PasswordDeed
            label="Your second factor"
            deed="Set one up"
            error={begun.error}
            isLoading={begun.isLoading}
            onSubmit={async (password) => void (await begin({ password }))}
          />
        </>
      )}
      {data && !data.isOn && begun.data && (
        <Confirm
          {...begun.data}
          onConfirmed={(recoveryCodes) => {
            begun.reset()
            setCodes(recoveryCodes)
          }}
        />
      )}
    </section>
  )
}

/** Something that is only done by whoever knows the password. */
function PasswordDeed({
  label,
  deed,
  error,
  isLoading,
  onSubmit,
}: {
  label: string
  deed: string
  error: unknown
  isLoading: boolean
  onSubmit: (password: string) => Promise<void>
}) {
  const { register, handleSubmit, reset } = useForm({ defaultValues: { password: '' } })
  const submit = handleSubmit(async ({ password }) => {
    await onSubmit(password)
    reset()
  })
  const wrong = fieldProblem(error, 'password')
  return (
    <form aria-label={label} className="flex items-start gap-2" onSubmit={(event) => void submit(event)}>
      <Field label="Your password" error={wrong}>
        <TextInput type="password" autoComplete="current-password" {...register('password', { required: true })} />
      </Field>
      <Button type="submit" className="mt-[21px]" disabled={isLoading}>
        {deed}
      </Button>
      {!wrong && <Refusal error={error} />}
    </form>
  )
}

function Confirm({ secret, uri, onConfirmed }: { secret: string; uri: string; onConfirmed: (recoveryCodes: string[]) => void }) {
  const [confirm, { error, isLoading }] = useConfirmSecondFactorMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { code: '' } })
  const submit = handleSubmit(async (input) => {
    const result = await confirm(input)
    if (result.data) onConfirmed(result.data.recoveryCodes)
  })
  const wrong = fieldProblem(error, 'code')
  return (
    <form aria-label="Confirm the second factor" className="flex flex-wrap items-start gap-4" onSubmit={(event) => void submit(event)}>
      {/* Black on white in either theme: cameras read nothing else well. */}
      <QRCodeSVG value={uri} size={QR_PX} marginSize={2} title="For your authenticator" />
      <div className="min-w-0 flex-1 space-y-2">
        <p className="text-ink-2">Let your authenticator read this, or type the secret into it. Then type the code that it shows.</p>
        <Copyable text={secret} label="Secret for your authenticator" />
        <Field label="The code that it shows" error={wrong}>
          <TextInput autoFocus inputMode="numeric" autoComplete="one-time-code" maxLength={20} {...register('code', { required: true })} />
        </Field>
        {!wrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          Ask for codes from now on
        </Button>
      </div>
    </form>
  )
}

function RecoveryCodes({ codes, onKept }: { codes: readonly string[]; onKept: () => void }) {
  return (
    <div role="status" className="my-2 border-l-2 border-ochre bg-ochre-soft px-2 py-1">
      <p>
        For the day on which the device is lost: each of these counts once, in place of a code. They are shown this one time.{' '}
        <Button look="line" onClick={onKept}>
          I have them
        </Button>
      </p>
      <Copyable text={codes.join('\n')} label="Codes for a lost device" />
    </div>
  )
}

import { useForm } from 'react-hook-form'
import { Link } from 'react-router'
import { fieldProblem } from '#shared/lib/problem-text'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useResetPasswordMutation } from './people.api'

/** The page behind the link to a new password. */
export function ResetPage({ secret }: { secret: string }) {
  const [reset, { error, isLoading, isSuccess }] = useResetPasswordMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { password: '' } })
  const submit = handleSubmit(({ password }) => void reset({ secret, password }))
  const wrong = fieldProblem(error, 'password')
  return (
    <main className="mx-auto mt-[12vh] w-[min(420px,94vw)] rounded-[4px] border border-edge bg-sheet p-5">
      <h1 className="mb-3 text-[17px] font-bold">Choose a new password</h1>
      {isSuccess ? (
        <p role="status">
          It is changed, and you are signed out everywhere.{' '}
          <Link className="link" to="/desk">
            Sign in
          </Link>
        </p>
      ) : (
        <form onSubmit={(event) => void submit(event)} className="space-y-3">
          <Field label="Password (at least 10 characters)" error={wrong}>
            <TextInput type="password" autoFocus autoComplete="new-password" {...register('password', { required: true })} />
          </Field>
          {!wrong && <Refusal error={error} />}
          <Button look="main" type="submit" disabled={isLoading}>
            Take this one
          </Button>
        </form>
      )}
    </main>
  )
}

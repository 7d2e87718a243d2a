import { useForm } from 'react-hook-form'
import { useNavigate } from 'react-router'
import { useInvitedQuery, useSignInMutation, useSignUpMutation } from './people.api'
import { problemText } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'

export function SignInDialog({ isOpen, onClose, isDemo }: { isOpen: boolean; onClose: () => void; isDemo: boolean }) {
  return (
    <Dialog title="Sign in" isOpen={isOpen} onClose={onClose}>
      <SignInForm isDemo={isDemo} onDone={onClose} />
    </Dialog>
  )
}

export function SignInForm({ isDemo, onDone }: { isDemo: boolean; onDone: () => void }) {
  const { register, handleSubmit } = useForm<{ email: string; password: string }>()
  const [signIn, { error, isLoading }] = useSignInMutation()
  const submit = handleSubmit(async (input) => {
    if (!(await signIn(input)).error) onDone()
  })
  return (
    <form onSubmit={(event) => void submit(event)} className="space-y-3 px-4 py-3">
      <Field label="E-mail address">
        <TextInput type="email" autoComplete="username" autoFocus {...register('email', { required: true })} />
      </Field>
      <Field label="Password">
        <TextInput type="password" autoComplete="current-password" {...register('password', { required: true })} />
      </Field>
      {error && (
        <p role="alert" className="text-fault">
          {problemText(error)}
        </p>
      )}
      {isDemo && (
        <p className="text-[12px] text-ink-2">
          In the demo: ines@emberwick.example (a lead), password ines-emberwick; likewise rafe, tam, mara, noor, teo and wren.
        </p>
      )}
      <Button look="main" type="submit" disabled={isLoading}>
        Sign in
      </Button>
    </form>
  )
}

/** The page behind a sign-up link: of somebody invited, or the one that the first start prints. */
export function SignUpPage({ secret }: { secret: string }) {
  const { register, handleSubmit } = useForm<{ name: string; email: string; password: string }>()
  const { data: invited, error: refused } = useInvitedQuery(secret)
  const [signUp, { error, isLoading }] = useSignUpMutation()
  const navigate = useNavigate()
  const isInvited = invited !== undefined && invited.email !== ''
  const submit = handleSubmit(async (input) => {
    if (!(await signUp({ secret, ...input, ...(isInvited && invited) })).error) void navigate('/desk')
  })
  return (
    <main className="mx-auto mt-[12vh] w-[min(420px,94vw)] rounded-[4px] border border-edge bg-sheet p-5">
      <h1 className="mb-3 text-[17px] font-bold">{isInvited ? `Welcome, ${invited.name}` : 'Make the first administrator'}</h1>
      {refused ? (
        <p role="alert" className="text-fault">
          {problemText(refused)}
        </p>
      ) : (
        <form onSubmit={(event) => void submit(event)} className="space-y-3">
          {isInvited ? (
            <p className="text-ink-2">You sign in as {invited.email}. Choose a password.</p>
          ) : (
            <>
              <Field label="Name">
                <TextInput autoComplete="name" {...register('name', { required: !isInvited })} />
              </Field>
              <Field label="E-mail address">
                <TextInput type="email" autoComplete="username" {...register('email', { required: !isInvited })} />
              </Field>
            </>
          )}
          <Field label="Password (at least 10 characters)">
            <TextInput type="password" autoComplete="new-password" {...register('password', { required: true })} />
          </Field>
          {error && (
            <p role="alert" className="text-fault">
              {problemText(error)}
            </p>
          )}
          <Button look="main" type="submit" disabled={isLoading}>
            Begin
          </Button>
        </form>
      )}
    </main>
  )
}

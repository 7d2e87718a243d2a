import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { useNavigate } from 'react-router'
import { useAskResetMutation, useInvitedQuery, useSignInMutation, useSignUpMutation } from './people.api'
import { fieldProblem, problemText } from '#shared/lib/problem-text'
import { suggestPrefix } from '@dystracer/core/projects/suggest-prefix'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { CodeField, isCodeWanted } from './CodeField'
import { Button, Refusal } from '#shared/ui/parts'

export function SignInDialog({ isOpen, onClose, hint }: { isOpen: boolean; onClose: () => void; hint: string | null }) {
  return (
    <Dialog title="Sign in" isOpen={isOpen} onClose={onClose}>
      <SignInForm hint={hint} onDone={onClose} />
    </Dialog>
  )
}

export function SignInForm({ hint, onDone }: { hint: string | null; onDone: () => void }) {
  const { register, handleSubmit, getValues } = useForm<{ email: string; password: string; code?: string }>()
  const [askReset, reset] = useAskResetMutation()
  const [signIn, { error, isLoading }] = useSignInMutation()
  const [asksForCode, setAsksForCode] = useState(false)
  const submit = handleSubmit(async ({ code, ...input }) => {
    const result = await signIn(code ? { ...input, code } : input)
    if (!result.error) onDone()
    else if (isCodeWanted(result.error)) setAsksForCode(true)
  })
  return (
    <form onSubmit={(event) => void submit(event)} className="space-y-3 px-4 py-3">
      <Field label="E-mail address">
        <TextInput type="email" autoComplete="username" autoFocus {...register('email', { required: true })} />
      </Field>
      <Field label="Password">
        <TextInput type="password" autoComplete="current-password" {...register('password', { required: true })} />
      </Field>
      {asksForCode && <CodeField {...register('code', { required: true })} />}
      <Refusal error={error} />
      {hint && <p className="text-[12px] text-ink-2">{hint}</p>}
      <div className="flex items-center justify-between">
        <Button look="main" type="submit" disabled={isLoading}>
          Sign in
        </Button>
        <Button look="line" onClick={() => void askReset({ email: getValues('email') })}>
          Forgotten the password?
        </Button>
      </div>
      <Refusal error={reset.error} />
      {reset.isSuccess && (
        <p role="status" className="text-[12px] text-ink-2">
          If somebody signs in by this address, a link to a new password is on its way there. Where no mail goes out, an administrator makes
          one under Settings, People.
        </p>
      )}
    </form>
  )
}

interface SignUpForm {
  name: string
  email: string
  password: string
  projectName: string
  projectPrefix: string
}

/** The page behind a sign-up link: of somebody invited, or the one that the first start prints. */
export function SignUpPage({ secret }: { secret: string }) {
  const { register, handleSubmit, setValue, watch, formState } = useForm<SignUpForm>()
  const { data: invited, error: refused } = useInvitedQuery(secret)
  const [signUp, { error, isLoading }] = useSignUpMutation()
  const navigate = useNavigate()
  const isInvited = invited !== undefined && invited.email !== ''
  const needsProject = invited?.needsProject ?? false
  const submit = handleSubmit(async ({ name, email, password, projectName, projectPrefix }) => {
    const result = await signUp({
      secret,
      password,
      ...(isInvited ? { name: invited.name, email: invited.email } : { name, email }),
      ...(needsProject && { project: { name: projectName, prefix: projectPrefix } }),
    })
    if (!result.error) void navigate('/desk')
  })
  const prefixField = register('projectPrefix', { required: needsProject })
  const suggest = (projectName: string) => {
    // Until somebody writes a prefix of their own, it follows the name.
    if (!formState.dirtyFields.projectPrefix) setValue('projectPrefix', suggestPrefix(projectName))
  }
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
          {needsProject && (
            <>
              <Field label="What are you working on? (the name of your first project)" error={fieldProblem(error, 'project.name')}>
                <TextInput
                  {...register('projectName', {
                    required: true,
                    onChange: (event: { target: { value: string } }) => suggest(event.target.value),
                  })}
                />
              </Field>
              <Field
                label={`Prefix: its items will be called ${watch('projectPrefix') || 'XYZ'}-1, ${watch('projectPrefix') || 'XYZ'}-2 …`}
                error={fieldProblem(error, 'project.prefix')}
              >
                <TextInput maxLength={10} className="uppercase" {...prefixField} />
              </Field>
            </>
          )}
          <Field label="Password (at least 10 characters)" error={fieldProblem(error, 'password')}>
            <TextInput type="password" autoComplete="new-password" {...register('password', { required: true })} />
          </Field>
          {!fieldProblem(error, 'password') && <Refusal error={error} />}
          <Button look="main" type="submit" disabled={isLoading}>
            Begin
          </Button>
        </form>
      )}
    </main>
  )
}

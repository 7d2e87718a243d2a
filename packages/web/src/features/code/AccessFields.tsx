import { useEffect } from 'react'
import type { UseFormReturn } from 'react-hook-form'
import { usePeople } from '#features/people/index'
import { useMakeRepositoryKeyMutation } from '#features/projects/projects.api'
import { fieldProblem } from '#shared/lib/problem-text'
import { Copyable } from '#shared/ui/Copyable'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { accessFor, type RepositoryForm } from './repository-access'

const KINDS = [
  { value: 'none', label: 'anybody may read it' },
  { value: 'login', label: 'a name and a secret' },
  { value: 'key', label: 'an ssh key of this server' },
] as const
const AS_BEFORE = { value: 'kept', label: 'as before' } as const

/**
 * How a repository is read: by anybody, with a login, or with a key that is made here and whose public half
 * goes to its host; one that is known may stay as it is.
 */
export function AccessFields({ form, error, isKnown = false }: { form: UseFormReturn<RepositoryForm>; error: unknown; isKnown?: boolean }) {
  const { register, watch, setValue } = form
  const { me } = usePeople()
  const [make, { data: made, error: notMade, isLoading }] = useMakeRepositoryKeyMutation()
  const url = watch('url')
  const kind = watch('kind')
  const fits = accessFor(url)
  // An address is typed letter by letter: only once it is one by ssh, or no more, does the choice follow it.
  useEffect(() => {
    if (!isKnown) setValue('kind', fits)
  }, [fits, isKnown, setValue])
  const wrong = fieldProblem(error, 'access')
  return (
    <>
      <Field label="How it is read" error={wrong}>
        <Choose {...register('kind')} choices={isKnown ? [AS_BEFORE, ...KINDS] : KINDS} />
      </Field>
      {kind === 'login' && (
        <div className="flex gap-2">
          <Field label="Name" error={fieldProblem(error, 'access.userName')}>
            <TextInput maxLength={200} autoComplete="off" {...register('userName', { required: true })} />
          </Field>
          <Field label="Password or access token" error={fieldProblem(error, 'access.secret')}>
            <TextInput type="password" maxLength={2000} autoComplete="off" {...register('secret', { required: true })} />
          </Field>
        </div>
      )}
      {kind === 'key' && (
        <div>
          {made ? (
            <>
              <p className="m-0 text-ink-2">
                Give this to the repository’s host as a key that may read it, and push if merges are to be made here:
              </p>
              <Copyable text={made.publicKey} label="Public key" />
            </>
          ) : (
            <Button
              disabled={isLoading}
              onClick={() =>
                void make(me?.project.prefix ?? '').then((result) => {
                  if (result.data) setValue('keyId', result.data.keyId)
                })
              }
            >
              {isLoading ? 'Making it …' : 'Make a key'}
            </Button>
          )}
          <Refusal error={notMade} />
        </div>
      )}
      {(kind === 'login' || kind === 'key') && <p className="text-[12px] text-ink-3">Kept encrypted on the server, and shown to nobody.</p>}
    </>
  )
}

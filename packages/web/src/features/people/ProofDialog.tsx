import { useState, useSyncExternalStore } from 'react'
import { useForm } from 'react-hook-form'
import { isProofAsked, onProof, proofIs } from '#shared/lib/proof'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { CodeField, isCodeWanted } from './CodeField'
import { Button, Refusal } from '#shared/ui/parts'
import { useProveAgainMutation } from './people.api'

/** Asks for the password once more, while a request waits for it. */
export function ProofDialog() {
  const isOpen = useSyncExternalStore(onProof, isProofAsked)
  return (
    <Dialog title="Show once more that it is you" isOpen={isOpen} onClose={() => proofIs(false)}>
      <ProofForm />
    </Dialog>
  )
}

function ProofForm() {
  const { register, handleSubmit } = useForm<{ password: string; code?: string }>()
  const [prove, { error, isLoading }] = useProveAgainMutation()
  const [asksForCode, setAsksForCode] = useState(false)
  const submit = handleSubmit(async ({ password, code }) => {
    const result = await prove({ password, ...(code && { code }) })
    if (!result.error) proofIs(true)
    else if (isCodeWanted(result.error)) setAsksForCode(true)
  })
  return (
    <form aria-label="Once more" onSubmit={(event) => void submit(event)} className="space-y-3 px-4 py-3">
      <p className="text-ink-2">
        What you are about to do gives somebody a way in, and it is a while since you typed your password. What you filled in waits behind
        this.
      </p>
      <Field label="Your password">
        <TextInput type="password" autoComplete="current-password" autoFocus {...register('password', { required: true })} />
      </Field>
      {asksForCode && <CodeField {...register('code', { required: true })} />}
      <Refusal error={error} />
      <div className="flex gap-2">
        <Button look="main" type="submit" disabled={isLoading}>
          Go on
        </Button>
        <Button onClick={() => proofIs(false)}>Not now</Button>
      </div>
    </form>
  )
}

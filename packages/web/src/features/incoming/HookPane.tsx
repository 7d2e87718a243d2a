import { HOOK_PROOFS, type HookReading } from '@dystracer/core/incoming/hook-reading'
import type { Hook } from '@dystracer/core/incoming/wire'
import { useState } from 'react'
import { toast } from 'sonner'
import { problemText } from '#shared/lib/problem-text'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { usePaneTrail } from '#shared/lib/use-trail'
import { usePeople } from '#features/people/index'
import { Copyable } from '#shared/ui/Copyable'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet, SectionHead } from '#shared/ui/parts'
import { HookMessages } from './HookMessages'
import { HookReadings } from './HookReadings'
import {
  useHookMessagesQuery,
  useHooksQuery,
  useLazyHookSecretQuery,
  useRemoveHookMutation,
  useRenewHookSecretMutation,
  useSetHookMutation,
  useTryReadingsMutation,
} from './incoming.api'

/** A way in for one program: its address and secret, how its messages are read, and what came. */
export function HookPane({ id }: { id: string }) {
  const { me } = usePeople()
  const project = me?.project.prefix ?? ''
  const { data, error, isLoading } = useHooksQuery(project, { skip: project === '' })
  const hook = data?.rows.find((row) => row.hookId === id)
  return (
    <Pane label={`Hook ${id}`} title={hook?.name ?? id} note="hook">
      <Pending error={error} isLoading={isLoading} />
      {data && !hook && <Quiet>There is no hook {id} in this project.</Quiet>}
      {hook && <HookBody key={hook.hookId} project={project} hook={hook} />}
    </Pane>
  )
}

function HookBody({ project, hook }: { project: string; hook: Hook }) {
  const { hookId, name, proof } = hook
  const trail = usePaneTrail()
  const [set, { error, isLoading }] = useSetHookMutation()
  const [remove] = useRemoveHookMutation()
  const [tryThem, tried] = useTryReadingsMutation()
  const { data: messages } = useHookMessagesQuery({ project, hookId }, { pollingInterval: 5000 })
  const keep = async (readings: HookReading[]) => {
    const result = await set({ project, hookId, name, proof, readings })
    if (!result.error) toast.success('Kept; messages are read so from now on')
  }
  return (
    <div className="space-y-5 px-4 py-3">
      <section aria-label="Address and secret">
        <SectionHead>Where {name} sends to</SectionHead>
        <Copyable text={hook.address} label="Address of the hook" />
        <Secret project={project} hookId={hookId} />
        <Proof
          key={`${proof.kind}/${proof.header}`}
          hook={hook}
          onSet={(next) => void set({ project, hookId, name, proof: next, readings: hook.readings }).then(tellRefusal)}
        />
      </section>
      <HookReadings
        key={JSON.stringify(hook.readings)}
        readings={hook.readings}
        messages={messages?.rows ?? []}
        error={error}
        isBusy={isLoading || tried.isLoading}
        onTry={(readings) => void tryThem({ project, hookId, readings }).then(tellRefusal)}
        onKeep={(readings) => void keep(readings)}
      />
      <HookMessages rows={messages?.rows ?? []} tried={tried.data?.rows ?? null} />
      <p>
        <Button
          look="text"
          onClick={() =>
            void remove({ project, hookId }).then((result) => {
              if (result.error) return void toast.error(problemText(result.error))
              toast.success(`The hook ${name} is closed`)
              trail.close()
            })
          }
        >
          Close this hook
        </Button>
      </p>
    </div>
  )
}

/** The secret, shown when it is asked for. */
function Secret({ project, hookId }: { project: string; hookId: string }) {
  const [read, { data }] = useLazyHookSecretQuery()
  const [renew, { isLoading }] = useRenewHookSecretMutation()
  const [isShown, setIsShown] = useState(false)
  const show = () => {
    setIsShown(!isShown)
    if (!isShown) void read({ project, hookId }).then(tellRefusal)
  }
  const makeNew = async () => {
    const result = await renew({ project, hookId })
    if (result.error) return void toast.error(problemText(result.error))
    void read({ project, hookId })
    toast.success('The old secret is refused from now on')
  }
  return (
    <>
      {isShown && data && <Copyable text={data.secret} label="Secret of the hook" />}
      <div className="mt-1 flex gap-3">
        <Button look="line" aria-expanded={isShown} onClick={show}>
          {isShown ? 'Hide the secret' : 'Show the secret'}
        </Button>
        {isShown && (
          <Button look="line" disabled={isLoading} onClick={() => void makeNew()}>
            Make a new secret
          </Button>
        )}
      </div>
    </>
  )
}

const PROOF_WORDS: Record<(typeof HOOK_PROOFS)[number], string> = {
  'standard-webhooks': 'a signature as Standard Webhooks say',
  'hmac-sha256': 'the HMAC-SHA256 of the body, in a header',
  'secret-in-header': 'the secret itself, in a header',
}

/** By what the program shows that a message is its own. */
function Proof({ hook, onSet }: { hook: Hook; onSet: (proof: Hook['proof']) => void }) {
  const { kind, header } = hook.proof
  return (
    <div className="mt-2 flex gap-3">
      <Field label="Its messages are proven by">
        <Choose
          className="w-[300px]!"
          value={kind}
          choices={HOOK_PROOFS.map((value) => ({ value, label: PROOF_WORDS[value] }))}
          onChange={(event) => onSet({ kind: event.target.value, header })}
        />
      </Field>
      {kind !== 'standard-webhooks' && (
        <Field label="Name of the header">
          <TextInput
            className="w-[180px]! font-mono"
            maxLength={60}
            placeholder={kind === 'hmac-sha256' ? 'X-Signature-256' : 'X-Secret'}
            defaultValue={header}
            onBlur={(event) => event.target.value.trim() !== header && onSet({ kind, header: event.target.value.trim() })}
          />
        </Field>
      )}
    </div>
  )
}

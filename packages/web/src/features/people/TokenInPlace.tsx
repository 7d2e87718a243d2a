import type { Scope } from '@dystracer/core/people/who'
import { useState } from 'react'
import { Copyable } from '#shared/ui/Copyable'
import { Button } from '#shared/ui/parts'
import { MakeTokenDialog, type OfferedScope } from './MakeTokenDialog'
import { usePeople } from './use-people'

/** A token made where it is needed, in the middle of other instructions; whoever may not make one is told who does. */
export function TokenInPlace({ scope, name, services = [] }: { scope: OfferedScope; name: string; services?: readonly string[] }) {
  const { me, may } = usePeople()
  const [isMaking, setIsMaking] = useState(false)
  const [token, setToken] = useState<string | null>(null)
  const project = me?.project.prefix ?? ''
  if (!may('tokens.manage')) return <span className="text-ink-2">A lead makes the token: Settings, Tokens.</span>
  return (
    <>
      <Button onClick={() => setIsMaking(true)}>Make the token…</Button>{' '}
      <span className="text-[12px] text-ink-3">
        or on the server: ./dystracer token --name {name} --project {project} --scope {scope satisfies Scope}
      </span>
      {token !== null && (
        <span role="status" className="block">
          This is the only time that it is shown:
          <Copyable text={token} label="The new token" />
        </span>
      )}
      {isMaking && (
        <MakeTokenDialog
          project={project}
          begin={{ name, scope, services: services.join(', ') }}
          onClose={() => setIsMaking(false)}
          onMade={(made) => {
            setIsMaking(false)
            setToken(made.token)
          }}
        />
      )}
    </>
  )
}

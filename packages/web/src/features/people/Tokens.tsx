import type { Token } from '@dystracer/core/people/token-wire'
import { useState } from 'react'
import { toast } from 'sonner'
import { problemText } from '#shared/lib/problem-text'
import { Copyable } from '#shared/ui/Copyable'
import { DeedTable } from '#shared/ui/DeedTable'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { MakeTokenDialog, SCOPE_WORDS } from './MakeTokenDialog'
import { useRevokeTokenMutation, useRotateTokenMutation, useTokensQuery } from './people.api'
import { usePeople } from './use-people'

const OVERLAP_HOURS = 24

/** Access tokens, of a project's programs or one's own: what each may, when it was last used, and their making and taking back. */
export function Tokens({ project }: { project: string | null }) {
  const { data, error, isLoading } = useTokensQuery(project)
  const [isMaking, setIsMaking] = useState(false)
  const [shown, setShown] = useState<{ name: string; token: string } | null>(null)
  const title = project === null ? 'Your own tokens' : 'Tokens'
  return (
    <section aria-label={title}>
      <SectionHead>{title}</SectionHead>
      <p className="mb-1 text-ink-2">
        {project === null
          ? 'For scripts of yours: they act as you, with your rights.'
          : 'For programs: a build service, a running program, a mail server. Each may what it was made for, for this project alone.'}
      </p>
      {shown && (
        <div role="status" className="my-2 border-l-2 border-ochre bg-ochre-soft px-2 py-1">
          <p>
            The token “{shown.name}”. This is the only time that it is shown.{' '}
            <Button look="line" onClick={() => setShown(null)}>
              I have it
            </Button>
          </p>
          <Copyable text={shown.token} label="The new token" />
        </div>
      )}
      <Pending error={error} isLoading={isLoading} />
      {data?.rows.length === 0 && <p className="text-ink-3">None yet.</p>}
      {data && data.rows.length > 0 && (
        <DeedTable headings={['Name', 'May', 'Last used', 'Ends']}>
          {data.rows.map((token) => (
            <TokenRow key={token.tokenId} token={token} project={project} onMade={setShown} />
          ))}
        </DeedTable>
      )}
      <p className="mt-2">
        <Button onClick={() => setIsMaking(true)}>Make a token…</Button>
      </p>
      {isMaking && (
        <MakeTokenDialog
          project={project}
          onClose={() => setIsMaking(false)}
          onMade={(made) => {
            setIsMaking(false)
            setShown(made)
          }}
        />
      )}
    </section>
  )
}

function TokenRow({
  token,
  project,
  onMade,
}: {
  token: Token
  project: string | null
  onMade: (made: { name: string; token: string }) => void
}) {
  const { nameOf } = usePeople()
  const [rotate] = useRotateTokenMutation()
  const [revoke] = useRevokeTokenMutation()
  const limits = [...token.services, ...token.origins].join(', ')
  return (
    <tr className="border-t border-edge-soft align-top">
      <td className="py-1">
        {token.name}
        <span className="block text-[12px] text-ink-3">
          made <When atMs={token.madeAtMs} /> {token.madeBy ? `by ${nameOf(token.madeBy)}` : 'on the server'}
          {token.project === null && project !== null && ', for all projects'}
        </span>
      </td>
      <td className="py-1">
        {SCOPE_WORDS[token.scope]}
        {limits && <span className="block text-[12px] text-ink-2">only {limits}</span>}
      </td>
      <td className="py-1">
        {token.lastUsedAtMs === null ? <span className="text-ink-3">never</span> : <When atMs={token.lastUsedAtMs} />}
      </td>
      <td className="py-1">{token.expiresAtMs === null ? <span className="text-ink-3">never</span> : <When atMs={token.expiresAtMs} />}</td>
      <td className="py-1 text-right whitespace-nowrap">
        {project !== null && (
          <>
            <Button
              look="line"
              aria-label={`renew ${token.name}`}
              title={`A new token beside this one, which ends in ${OVERLAP_HOURS} hours`}
              onClick={() =>
                void rotate({ project, tokenId: token.tokenId, overlapHours: OVERLAP_HOURS }).then((result) =>
                  result.error ? toast.error(problemText(result.error)) : onMade({ name: token.name, token: result.data.token }),
                )
              }
            >
              renew
            </Button>
            {' · '}
          </>
        )}
        <Button
          look="line"
          aria-label={`take back ${token.name}`}
          onClick={() =>
            void revoke({ project, tokenId: token.tokenId }).then((result) =>
              result.error ? toast.error(problemText(result.error)) : toast.success(`${token.name} opens nothing any more`),
            )
          }
        >
          take back
        </Button>
      </td>
    </tr>
  )
}

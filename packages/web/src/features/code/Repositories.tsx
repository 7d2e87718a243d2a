import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { Button, SectionHead, When } from '#shared/ui/parts'
import { useRepositoriesQuery } from './code.api'
import { ConnectRepositoryDialog } from './ConnectRepositoryDialog'

/** The connected repositories, a line each: how much was read, when, and what is in the way. */
export function RepositoryLines({ className = '' }: { className?: string }) {
  const repositories = useRepositoriesQuery()
  return (
    <>
      {repositories.data?.rows.map((row) => (
        <p key={row.repository} className={`border-b border-edge-soft py-1 text-[12px] text-ink-2 ${className}`}>
          <b>{row.repository}</b> · {row.commits} commits ·{' '}
          {row.trouble ? (
            <span className="text-fault">
              cannot be fetched: {row.trouble}; tried again {row.retryAtMs && <When atMs={row.retryAtMs} />}
            </span>
          ) : (
            row.fetchedAtMs && (
              <>
                fetched <When atMs={row.fetchedAtMs} />
              </>
            )
          )}
        </p>
      ))}
    </>
  )
}

/** The repositories of the project, and the connecting of another. */
export function Repositories() {
  const [isConnecting, setIsConnecting] = useState(false)
  const { data } = useRepositoriesQuery()
  const { may } = usePeople()
  return (
    <section aria-label="Repositories">
      <SectionHead>Repositories</SectionHead>
      {data?.rows.length === 0 && <p className="text-ink-3">None yet.</p>}
      <RepositoryLines />
      {may('setup.change') && (
        <p className="mt-2">
          <Button onClick={() => setIsConnecting(true)}>Connect a repository…</Button>
        </p>
      )}
      {isConnecting && <ConnectRepositoryDialog onClose={() => setIsConnecting(false)} />}
    </section>
  )
}

import { AUDIT_KINDS, AUDIT_WORDS, type AuditEntry, type AuditKind } from '@dystracer/core/people/audit-wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { capitalised } from '#shared/lib/format'
import { Choose } from '#shared/ui/fields'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { useAuditInfiniteQuery } from './operating.api'

/** What concerns the security of the installation, newest first; all of it as a file. */
export function AuditTrail() {
  const [kind, setKind] = useState<AuditKind | undefined>(undefined)
  const { currentData: data, error, isLoading, hasNextPage, fetchNextPage, isFetchingNextPage } = useAuditInfiniteQuery({ kind })
  const rows = data?.pages.flatMap((page) => page.rows) ?? []
  return (
    <section aria-label="Audit trail">
      <SectionHead>Audit trail</SectionHead>
      <p className="mb-2 text-ink-2">Who came in, who was refused, what was given and taken. Nobody can change it.</p>
      <div className="mb-2 flex items-baseline gap-3">
        <Choose
          aria-label="Kind"
          className="w-72!"
          value={kind ?? ''}
          none="everything"
          choices={AUDIT_KINDS.map((known) => ({ value: known, label: AUDIT_WORDS[known] }))}
          onChange={({ target }) => setKind(target.value || undefined)}
        />
        <a className="link" href="/api/v1/audit.csv" download>
          all as CSV
        </a>
      </div>
      <Pending error={error} isLoading={isLoading} />
      {data && rows.length === 0 && <p className="text-ink-3">Nothing of this kind yet.</p>}
      <ul className="m-0 list-none p-0">
        {rows.map((entry) => (
          <AuditLine key={entry.auditId} entry={entry} />
        ))}
      </ul>
      {hasNextPage && (
        <p className="mt-2">
          <Button disabled={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            Earlier ones
          </Button>
        </p>
      )}
    </section>
  )
}

const REFUSALS: readonly AuditKind[] = ['sign-in-refused', 'account-locked']

function AuditLine({ entry }: { entry: AuditEntry }) {
  const { nameOf } = usePeople()
  const who = entry.actor === 'guest' ? 'Somebody' : capitalised(nameOf(entry.actor))
  const isOther = entry.about !== null && entry.actor !== `person:${entry.about}` && entry.actor !== `token:${entry.about}`
  const facts = Object.entries(entry.facts).filter(([, value]) => value !== '')
  return (
    <li className="border-b border-edge-soft py-1">
      <span className={REFUSALS.includes(entry.kind) ? 'text-fault' : ''}>
        {who} {AUDIT_WORDS[entry.kind]}
        {isOther && `: ${entry.about}`}
      </span>{' '}
      <When atMs={entry.atMs} />
      <span className="block text-[12px] text-ink-2">
        {facts.length > 0 && `${facts.map(([name, value]) => `${name} ${value}`).join(', ')} · `}
        {entry.place}
      </span>
    </li>
  )
}

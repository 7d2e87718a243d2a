import type { Agreement } from '@dystracer/core/agreements/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Button, Pending, Quiet, When } from '#shared/ui/parts'
import { AskDialog } from './AskDialog'
import { useAgreementsQuery } from './agreements.api'

/** Sets of requirements that people are asked to agree to, and how far each is. */
export function Agreements({ project, canAsk }: { project: string; canAsk: boolean }) {
  const { data, error, isLoading } = useAgreementsQuery(project)
  const [isAsking, setIsAsking] = useState(false)
  return (
    <div className="px-4 py-3">
      <Pending error={error} isLoading={isLoading} />
      {data?.rows.length === 0 && (
        <Quiet>Nobody is asked yet. People are named, and agree to each requirement as it reads; a new text asks them again.</Quiet>
      )}
      <ul aria-label="Agreements" className="m-0 list-none p-0">
        {data?.rows.map((row) => (
          <Line key={row.agreementId} row={row} />
        ))}
      </ul>
      {canAsk && (
        <p className="mt-2">
          <Button look="line" onClick={() => setIsAsking(true)}>
            Ask people to agree…
          </Button>
        </p>
      )}
      {isAsking && <AskDialog project={project} agreement={null} onClose={() => setIsAsking(false)} />}
    </div>
  )
}

function Line({ row }: { row: Agreement }) {
  const { nameOf } = usePeople()
  const trail = usePaneTrail()
  return (
    <li className={`border-b border-edge-soft py-1.5 ${row.ended === null ? '' : 'text-ink-3'}`}>
      <button
        type="button"
        className="link min-h-6 font-bold"
        onClick={() => trail.open({ kind: 'agreement', id: `${row.project}/${row.agreementId}` })}
      >
        {row.name}
      </button>{' '}
      asked by {nameOf(row.by)} <When atMs={row.atMs} />
      {row.dueOn !== null && row.ended === null && `, by ${row.dueOn}`}
      <span className="block">
        <b className={row.isAgreed ? 'text-proof' : ''}>{row.isAgreed ? 'agreed' : `${row.agreed} of ${row.total} agreed by all`}</b>
        {row.openRemarks > 0 && <span className="text-ochre"> · {plural(row.openRemarks, 'open remark')}</span>}
        {row.ended !== null && ` · ended${row.ended.words === '' ? '' : `: ${row.ended.words}`}`}
      </span>
      <span className="block text-[12px] text-ink-2">
        {row.people.map(({ personId, agreed }) => `${nameOf(personId)} ${agreed} of ${row.total}`).join(', ')}
      </span>
    </li>
  )
}

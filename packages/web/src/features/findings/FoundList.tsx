import type { BuildFindings } from '@dystracer/core/builds/wire'
import { useState } from 'react'
import { FileLink } from '#features/files/index'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { tellResult } from '#shared/lib/tell-refusal'
import { AsideDialog } from '#shared/ui/AsideDialog'
import { Button } from '#shared/ui/parts'
import { useSetFindingAsideMutation } from './findings.api'

type Found = BuildFindings['fresh'][number]

const LEVEL_LOOK: Record<Found['level'], string> = {
  error: 'font-bold text-fault',
  warning: 'text-ochre',
  note: 'text-ink-2',
  none: 'text-ink-3',
}

/** Findings, each with its place, who looks after it, and how it comes about; from here they are set aside. */
export function FoundList({ label, rows, repository }: { label: string; rows: readonly Found[]; repository: string }) {
  if (rows.length === 0) return null
  return (
    <ul aria-label={label} className="m-0 list-none p-0 text-[12px]">
      {rows.map((row) => (
        <li key={`${row.tool}\n${row.identity}`} className="border-b border-edge-soft py-1 leading-6">
          <FoundRow row={row} repository={repository} />
        </li>
      ))}
    </ul>
  )
}

function FoundRow({ row, repository }: { row: Found; repository: string }) {
  const { nameOf } = usePeople()
  const { level, kind, message, minutes, tool, ruleId, helpUrl, file, line, ownerIds, steps, fixes } = row
  return (
    <>
      <span className={LEVEL_LOOK[level]}>{kind}</span> {message}{' '}
      <span className="text-ink-3">
        {tool}{' '}
        {helpUrl === null ? (
          ruleId
        ) : (
          <a href={helpUrl} target="_blank" rel="noreferrer noopener" className="underline">
            {ruleId}
          </a>
        )}
        , {minutes} min
      </span>
      {file !== null && (
        <span className="ml-2 font-mono">
          <FileLink repository={repository} path={file} />
          {line !== null && `:${line}`}
        </span>
      )}
      {ownerIds.length > 0 && <span className="ml-2 text-ink-2">{ownerIds.map(nameOf).join(', ')} looks after it</span>}
      <SetAside row={row} repository={repository} />
      {steps.length > 0 && (
        <details>
          <summary className="min-h-6 text-ink-2">how it comes about: {plural(steps.length, 'step')}</summary>
          <ol className="m-0 list-decimal pl-5">
            {steps.map((step, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: steps have no identity but their place in the row.
              <li key={at}>
                {step.message || 'goes on'}
                {step.file !== null && (
                  <span className="ml-2 font-mono">
                    <FileLink repository={repository} path={step.file} />
                    {step.line !== null && `:${step.line}`}
                  </span>
                )}
              </li>
            ))}
          </ol>
        </details>
      )}
      {fixes.map((fix) => (
        <p key={fix} className="m-0 text-ink-2">
          It proposes: {fix}
        </p>
      ))}
    </>
  )
}

function SetAside({ row: { tool, identity, aside, message }, repository }: { row: Found; repository: string }) {
  const { may, nameOf } = usePeople()
  const [isOpen, setIsOpen] = useState(false)
  const [set, { error, isLoading }] = useSetFindingAsideMutation()
  const countAgain = async () => tellResult(await set({ repository, tool, identity, until: null }), 'It counts again')
  return (
    <>
      {aside && (
        <span className="ml-2">
          <b className="text-ochre">set aside</b> until {aside.until} by {nameOf(aside.by)}: {aside.why}
        </span>
      )}{' '}
      {may('code.contribute') && (
        <Button
          look="line"
          disabled={isLoading}
          aria-label={`${aside ? 'count it again' : 'set it aside'}: ${message}`}
          onClick={() => (aside ? void countAgain() : setIsOpen(true))}
        >
          {aside ? 'count it again' : 'set it aside …'}
        </Button>
      )}
      {isOpen && (
        <AsideDialog
          title="Set the finding aside"
          note="It stays listed, but no gate counts it until the day is over."
          example="the value cannot be negative here: the pump has no reverse"
          error={error}
          isBusy={isLoading}
          onClose={() => setIsOpen(false)}
          onSubmit={async ({ until, why }) => {
            const result = await set({ repository, tool, identity, until, why })
            return !result.error
          }}
        />
      )}
    </>
  )
}

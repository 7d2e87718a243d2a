import type { CaseDetail } from '@dystracer/core/cases/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Markdown } from '#shared/ui/Markdown'
import { Pane } from '#shared/ui/Pane'
import { PaneLink } from '#shared/ui/PaneLink'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { KeyLink, ThingLink } from '#shared/ui/ThingLink'
import { CaseDialog } from './CaseDialog'
import { useRetireCaseMutation, useTestCaseQuery } from './cases.api'
import { numbered } from './next-open'
import { OutcomeStroke } from './OutcomeStroke'

/** A test case: what has to be so before, its steps, what it verifies, and what people found. */
export function CasePane({ id }: { id: string }) {
  const [project = '', number = ''] = id.split('/')
  const { data, error, isLoading } = useTestCaseQuery({ project, number })
  const { may } = usePeople()
  const [isWriting, setIsWriting] = useState(false)
  const [retire] = useRetireCaseMutation()
  if (!data)
    return (
      <Pane label={`Test case ${number}`} title={`Test case ${number}`}>
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  const setRetired = (isRetired: boolean) => void retire({ project, number, isRetired }).then(tellRefusal)
  return (
    <Pane
      label={`Test case ${number}`}
      title={
        <>
          <span className="font-mono text-[13px] font-normal">{number}</span> {data.title}
        </>
      }
      foot={
        may('tests.write') && (
          <div className="flex gap-4">
            <Button look="text" onClick={() => setIsWriting(true)}>
              Write it anew…
            </Button>
            <Button look="text" onClick={() => setRetired(!data.isRetired)}>
              {data.isRetired ? 'Take it up again' : 'Retire it'}
            </Button>
          </div>
        )
      }
    >
      {isWriting && <CaseDialog project={project} row={data} onClose={() => setIsWriting(false)} />}
      <div className="px-4 py-3">
        {data.isRetired && (
          <p role="status" className="border-l-2 border-ochre bg-ochre-soft px-2 py-1">
            Retired: nobody is asked to do it any more.
          </p>
        )}
        {data.text.trim() && <Markdown text={data.text} />}
        <Steps row={data} />
        <p className="mt-2 text-[12px] text-ink-2">revision {data.revision}</p>
        <section aria-label="Verifies" className="mt-3">
          <SectionHead>Verifies</SectionHead>
          {data.verifies.length === 0 && <p className="m-0 text-ochre">Nothing: name a requirement or an item when it is written.</p>}
          {data.verifies.map((key) => (
            <KeyLink key={key} project={data.project} name={key} />
          ))}
        </section>
        <Found row={data} />
      </div>
    </Pane>
  )
}

function Steps({ row: { steps } }: { row: CaseDetail }) {
  return (
    <table className="mt-2 w-full text-left">
      <thead className="text-[12px] text-ink-2">
        <tr>
          <th className="w-8 font-normal">
            <span className="sr-only">step</span>
          </th>
          <th className="font-normal">what is done</th>
          <th className="font-normal">what is expected</th>
        </tr>
      </thead>
      <tbody>
        {numbered(steps).map(({ number, ...step }) => (
          <tr key={number} className="border-t border-edge-soft align-top">
            <td className="py-1 font-mono text-[12px] text-ink-2">{number}</td>
            <td className="py-1 pr-3 whitespace-pre-wrap">{step.do}</td>
            <td className="py-1 whitespace-pre-wrap">{step.expect}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** What people found, the newest first. */
function Found({ row: { results, project } }: { row: CaseDetail }) {
  const { nameOf } = usePeople()
  return (
    <section aria-label="What was found" className="mt-3">
      <SectionHead>What was found</SectionHead>
      {results.length === 0 && <p className="m-0 text-ink-2">Nobody has done it yet.</p>}
      <ul className="m-0 list-none p-0">
        {results.map((result) => (
          <li key={result.resultId} className="border-b border-edge-soft py-1">
            <OutcomeStroke outcome={result.outcome} /> {result.outcome}
            {result.step !== null && ` at step ${result.step}`} in {result.environment},{' '}
            <PaneLink to={{ kind: 'test-plan', id: `${project}/${result.planId}` }}>{result.planName}</PaneLink>
            {result.item && (
              <>
                {' '}
                <ThingLink to={{ kind: 'item', id: result.item }} />
              </>
            )}{' '}
            <span className="text-ink-2">
              {nameOf(result.by)} <When atMs={result.atMs} />
              {result.isStale && `, of revision ${result.revision}`}
            </span>
            {result.words && <Markdown text={result.words} />}
          </li>
        ))}
      </ul>
    </section>
  )
}

import type { Item } from '@dystracer/core/contract/items'
import type { Proposals } from '@dystracer/core/contract/triage'
import { useState } from 'react'
import { toast } from 'sonner'
import { useActMutation, useItemQuery, useProposalsQuery, useRequirementsQuery, useTriageQuery } from '../../shared/lib/api'
import { problemText } from '../../shared/lib/problem-text'
import { usePeople } from '../../shared/lib/use-people'
import { usePaneTrail } from '../../shared/lib/use-trail'
import { Choose, Field, TextInput } from '../../shared/ui/fields'
import { Markdown } from '../../shared/ui/Markdown'
import { Pane } from '../../shared/ui/Pane'
import { Button, Pending, SectionHead } from '../../shared/ui/parts'
import { ThingLink } from '../../shared/ui/ThingLink'
import { FaultEvidence } from '../faults'

/** Everything that a decision needs: what happened and where, and beside it the decision itself with its proposals. */
export function DecisionPane({ id }: { id: string }) {
  const { data: item, error, isLoading } = useItemQuery(id)
  const { data: proposals } = useProposalsQuery(id)
  if (!item || !proposals)
    return (
      <Pane label={`Decide ${id}`} title={id}>
        <Pending error={error} isLoading={isLoading || !proposals} />
      </Pane>
    )
  const fault = item.links.find((link) => link.to.kind === 'fault')?.to.id
  return (
    <Pane
      label={`Decide ${item.key}`}
      title={
        <>
          <span className="font-mono text-[13px] font-normal">{item.key}</span> {item.title}
        </>
      }
    >
      <div className="grid min-h-full grid-cols-[minmax(0,1fr)_minmax(250px,300px)]">
        <div className="border-r border-edge">
          {fault ? (
            <FaultEvidence fault={fault} />
          ) : (
            <div className="px-4 py-3">
              <Markdown text={item.description || 'Nothing was written.'} />
            </div>
          )}
          {proposals.alike.length > 0 && (
            <div className="border-t border-edge px-4 py-3">
              <SectionHead>Already known?</SectionHead>
              {proposals.alike.map((entry) => (
                <p key={entry.value} className="py-1">
                  <ThingLink to={{ kind: 'item', id: entry.value }} /> {entry.label}
                  <span className="block text-[12px] text-ink-2">{entry.reason}</span>
                </p>
              ))}
            </div>
          )}
        </div>
        <Decision key={item.key} item={item} proposals={proposals} />
      </div>
    </Pane>
  )
}

function Decision({ item, proposals }: { item: Item; proposals: Proposals }) {
  const people = usePeople()
  const trail = usePaneTrail()
  const { data: requirements } = useRequirementsQuery()
  const { data: queue } = useTriageQuery()
  const [act, { isLoading }] = useActMutation()
  const [severity, setSeverity] = useState(item.severity ?? proposals.severity.value)
  const [ownerId, setOwnerId] = useState(item.ownerId ?? proposals.owners[0]?.value ?? '')
  const [component, setComponent] = useState(item.component ?? proposals.components[0]?.value ?? '')
  const [requirement, setRequirement] = useState(
    proposals.requirements[0]?.reason.includes('failing line') ? (proposals.requirements[0]?.value ?? '') : '',
  )
  const [title, setTitle] = useState(item.title)
  const goOn = () => {
    const rows = queue?.rows ?? []
    const at = rows.findIndex((row) => row.item.key === item.key)
    const next = rows[at + 1] ?? rows[at - 1]
    if (next && next.item.key !== item.key) trail.open({ kind: 'decision', id: next.item.key })
  }
  const run = async (what: 'accept' | 'reject', body: object, said: string) => {
    const result = await act({ key: item.key, act: what, body })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(said)
    if (trail.segments[0]?.kind === 'triage') goOnFrom(trail.segments.length, goOn)
  }
  const reasonOf = (list: Proposals['owners'], value: string) => list.find((entry) => entry.value === value)?.reason
  const chosenRequirement = requirements?.rows.find((row) => row.key === requirement)
  return (
    <form
      aria-label="Decision"
      className="flex flex-col gap-3 px-4 py-3"
      onSubmit={(event) => {
        event.preventDefault()
        void run(
          'accept',
          { severity, ownerId: ownerId || null, component: component || null, requirement: requirement || null, title },
          `${item.key} is accepted at ${severity}`,
        )
      }}
    >
      <p className="font-bold">If it is ours</p>
      <div>
        <SectionHead>How bad?</SectionHead>
        <div role="radiogroup" aria-label="Severity" className="flex gap-2">
          {[1, 2, 3, 4, 5].map((value) => (
            // biome-ignore lint/a11y/useSemanticElements: a numeral over a bar is drawn, the roles say what it is
            <button
              key={value}
              type="button"
              role="radio"
              aria-checked={severity === value}
              aria-label={`severity ${value}`}
              onClick={() => setSeverity(value)}
              className={`flex-1 border-b-[3px] pb-1 text-[15px] font-bold ${severity === value ? 'border-fault' : 'border-edge'} ${value <= 2 ? 'text-fault' : value === 3 ? 'text-ink' : 'text-ink-3'}`}
            >
              {value}
            </button>
          ))}
        </div>
        <p className="mt-1 text-[12px] text-ink-2">
          {proposals.severity.value} looks right: {proposals.severity.reason}
        </p>
      </div>
      <div>
        <Field label="Breaks">
          <Choose
            value={requirement}
            none="no requirement"
            onChange={(event) => setRequirement(event.target.value)}
            choices={(requirements?.rows ?? []).filter((row) => !row.isHeading).map((row) => ({ value: row.key, label: `${row.key} ${row.title}` }))}
          />
        </Field>
        {chosenRequirement && <p className="mt-1 font-serif text-[14px]">{chosenRequirement.text}</p>}
        {requirement && <p className="text-[12px] text-ink-2">{reasonOf(proposals.requirements, requirement)}</p>}
        {proposals.requirements
          .filter((entry) => entry.value !== requirement)
          .slice(0, 2)
          .map((entry) => (
            <p key={entry.value} className="mt-1 text-[12px] text-ink-2">
              <button type="button" className="link font-serif" onClick={() => setRequirement(entry.value)}>
                {entry.value} {entry.label}
              </button>{' '}
              · {entry.reason}
            </p>
          ))}
      </div>
      <div>
        <Field label="Owner">
          <Choose
            value={ownerId}
            none="nobody yet"
            onChange={(event) => setOwnerId(event.target.value)}
            choices={(people.me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))}
          />
        </Field>
        <p className="text-[12px] text-ink-2">{reasonOf(proposals.owners, ownerId)}</p>
      </div>
      <Field label="Component">
        <Choose
          value={component}
          none="not sure"
          onChange={(event) => setComponent(event.target.value)}
          choices={(people.me?.components ?? []).map((name) => ({ value: name, label: name }))}
        />
      </Field>
      <Field label="Title">
        <TextInput value={title} maxLength={200} onChange={(event) => setTitle(event.target.value)} />
      </Field>
      <div className="flex flex-wrap gap-2 border-t border-edge pt-3">
        <Button look="main" type="submit" disabled={isLoading || !people.may('member')}>
          Accept at {severity}
        </Button>
        {proposals.alike[0] && (
          <Button
            look="text"
            disabled={!people.may('member')}
            onClick={() =>
              void run(
                'reject',
                { disposition: 'duplicate', sameAs: proposals.alike[0]?.value },
                `${item.key} is the same as ${proposals.alike[0]?.value}`,
              )
            }
          >
            Same as {proposals.alike[0].value}
          </Button>
        )}
        <Button
          look="text"
          disabled={!people.may('member')}
          onClick={() => void run('reject', { disposition: 'will-not-fix' }, `${item.key} is rejected`)}
        >
          Reject
        </Button>
      </div>
      {!people.may('member') && <p className="text-ochre">Sign in to decide.</p>}
    </form>
  )
}

/** Only goes on to the next entry while nothing else was opened beside the decision. */
function goOnFrom(length: number, goOn: () => void): void {
  if (length <= 2) goOn()
}

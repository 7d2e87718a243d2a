import { useItemQuery } from '#features/items/items.api'
import type { Item } from '@dystracer/core/items/wire'
import type { Proposal } from '@dystracer/core/triage/wire'
import { useProposalsQuery } from './triage.api'
import { usePeople } from '#features/people/index'
import { Markdown } from '#shared/ui/Markdown'
import { Pane } from '#shared/ui/Pane'
import { Pending, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { FaultEvidence } from '#features/faults/index'
import { Decision } from './Decision'

/** Everything that a decision needs: what happened and where, and beside it the decision itself with its proposals. */
export function DecisionPane({ id }: { id: string }) {
  // Never those of the item before, while this one's are on their way: a decision is made on what stands here.
  const { currentData: item, error, isLoading } = useItemQuery(id)
  const { currentData: proposals } = useProposalsQuery(id)
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
      <div className="grid min-h-full grid-cols-[minmax(0,1fr)_minmax(270px,310px)]">
        <div className="border-r border-edge">
          {fault ? <FaultEvidence fault={fault} /> : <Report item={item} />}
          <Section title="Likely brought in by" rows={proposals.broughtInBy} kind="commit" />
          <Section title="Already known?" rows={proposals.alike} kind="item" />
        </div>
        <Decision item={item} proposals={proposals} />
      </div>
    </Pane>
  )
}

function Report({ item }: { item: Item }) {
  const { nameOf } = usePeople()
  return (
    <div className="px-4 py-3">
      <p className="mb-2 text-[12px] text-ink-2">
        {item.cameFrom ?? nameOf(item.reporterId)}, <When atMs={item.createdAtMs} />
        {item.foundIn && ` · found in ${item.foundIn}`}
      </p>
      <Markdown text={item.description || 'Nothing was written.'} />
    </div>
  )
}

function Section({ title, rows, kind }: { title: string; rows: readonly Proposal[]; kind: 'item' | 'commit' }) {
  if (rows.length === 0) return null
  return (
    <section aria-label={title} className="border-t border-edge px-4 py-2">
      <SectionHead>{title}</SectionHead>
      {rows.map((entry) => (
        <p key={entry.value} className="py-0.5">
          <ThingLink to={{ kind, id: entry.value }} /> {entry.label}
          <span className="block text-[12px] text-ink-2">{entry.reason}</span>
        </p>
      ))}
    </section>
  )
}

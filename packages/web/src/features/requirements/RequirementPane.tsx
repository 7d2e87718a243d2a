import type { RequirementDetail } from '@dystracer/core/requirements/wire'
import { AskedHere } from '#features/agreements/index'
import { TermsHere } from '#features/glossary/index'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { PaneLink } from '#shared/ui/PaneLink'
import { Button, Pending, SectionHead } from '#shared/ui/parts'
import { Stair } from '#shared/ui/Stair'
import { ThingLink } from '#shared/ui/ThingLink'
import { MadeForOlder } from './MadeForOlder'
import { RequirementAttributes } from './RequirementAttributes'
import { RequirementDeeds } from './RequirementDeeds'
import { RequirementRelations } from './RequirementRelations'
import { RequirementText } from './RequirementText'
import { useRequirementQuery, useRequirementsQuery } from './requirements.api'
import { Revisions } from './Revisions'

const VERB: Record<string, string> = { implements: 'implemented by', breaks: 'broken by' }

export function RequirementPane({ id }: { id: string }) {
  const { data, error, isLoading } = useRequirementQuery(id)
  const trail = usePaneTrail()
  const { may } = usePeople()
  if (!data)
    return (
      <Pane label={id} title={id}>
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  return (
    <Pane
      label={data.key}
      title={
        <>
          <span className="font-mono text-[13px] font-normal">{data.key}</span> <span className="font-serif">{data.title}</span>
        </>
      }
      aside={
        <>
          <Button look="text" onClick={() => trail.open({ kind: 'impact', id: data.key })}>
            if it changes
          </Button>
          <Button look="text" onClick={() => trail.open({ kind: 'thread', id: `requirement:${data.key}` })}>
            thread
          </Button>
        </>
      }
      foot={may('requirements.write') && <RequirementDeeds data={data} />}
    >
      {data.isRetired && (
        <p role="status" className="mx-4 mt-3 border-l-2 border-ochre bg-ochre-soft px-2 py-1">
          Retired: it holds no more. {data.retiredWords}
        </p>
      )}
      <AskedHere requirement={data.key} />
      <RequirementText key={data.key} data={data} />
      <MadeForOlder data={data} />
      <TermsHere text={`${data.title}\n${data.text}`} />
      <RequirementAttributes key={`about ${data.key}`} data={data} />
      {data.isHeading ? <Below keys={data.children} /> : <Standing data={data} />}
      {!data.isHeading && <RequirementRelations data={data} />}
      <Revisions data={data} />
    </Pane>
  )
}

/** What a heading gathers; nothing implements a heading itself. */
function Below({ keys }: { keys: readonly string[] }) {
  const { data } = useRequirementsQuery()
  return (
    <div className="border-t border-edge px-4 py-3">
      <SectionHead>Below it</SectionHead>
      {keys.length === 0 && <p className="text-ink-2">Nothing yet.</p>}
      {keys.map((key) => (
        <p key={key} className="py-0.5">
          <ThingLink to={{ kind: 'requirement', id: key }} />{' '}
          <span className="font-serif">{data?.rows.find((row) => row.key === key)?.title}</span>
        </p>
      ))}
    </div>
  )
}

/** What stands for a requirement: the items that implement or break it, and the tests that prove it. */
function Standing({ data }: { data: RequirementDetail }) {
  const project = usePeople().me?.project.prefix ?? ''
  return (
    <>
      <div className="border-t border-edge px-4 py-3">
        <SectionHead>Items</SectionHead>
        {data.items.length === 0 && <p className="text-ochre">No item implements it.</p>}
        {data.items.map((item) => (
          <p key={item.key} className="flex items-center gap-3 border-b border-edge-soft py-1">
            <span className={`w-[104px] shrink-0 text-[12px] ${item.linkKind === 'breaks' ? 'text-fault' : 'text-ink-2'}`}>
              {VERB[item.linkKind] ?? item.linkKind}
            </span>
            <ThingLink to={{ kind: 'item', id: item.key }} />
            <span className="min-w-0 flex-1 truncate">{item.title}</span>
            {item.isSuspect && <span className="text-[12px] text-ochre">look again</span>}
            <Stair stair={item.stair} hasComeBack={item.hasComeBack} />
          </p>
        ))}
      </div>
      <div className="border-t border-edge px-4 py-3">
        <SectionHead>Tests that prove it, on the newest build of main</SectionHead>
        {data.verifiedBy.length + data.checks.length === 0 && (
          <p className="text-ochre">No test names it. Put {data.key} into a test's name, or write a test case that verifies it.</p>
        )}
        {data.verifiedBy.map((test) => (
          <p key={test.test}>
            <span className={test.outcome === 'failed' ? 'font-bold text-fault' : 'text-proof'}>{test.outcome}</span> {test.test}{' '}
            <ThingLink to={test.build} />
          </p>
        ))}
        {data.checks.map((check) => (
          <p key={`${check.number}${check.environment}`}>
            <span
              className={
                check.isStale
                  ? 'text-ink-2'
                  : check.outcome === 'failed'
                    ? 'font-bold text-fault'
                    : check.outcome === 'passed'
                      ? 'text-proof'
                      : 'text-ochre'
              }
            >
              {check.outcome}
            </span>{' '}
            {check.title} <span className="text-ink-2">by hand in {check.environment}</span>{' '}
            <PaneLink to={{ kind: 'case', id: `${project}/${check.number}` }}>case {check.number}</PaneLink>{' '}
            {check.isStale && <span className="text-ochre">of an older text</span>}
          </p>
        ))}
      </div>
    </>
  )
}

import type { RequirementDetail } from '@dystracer/core/requirements/wire'
import { useState } from 'react'
import { toast } from 'sonner'
import { RequirementDeeds } from './RequirementDeeds'
import { BeginRequirementDialog } from './BeginRequirementDialog'
import { ImportRequirementsDialog } from './ImportRequirementsDialog'
import { useRequirementQuery, useRequirementsQuery, useWriteRequirementMutation } from './requirements.api'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { TextArea, TextInput } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet, SectionHead, When } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { Stair } from '#shared/ui/Stair'
import { ThingLink } from '#shared/ui/ThingLink'

/** Requirements in document order; used as the tree of this place and as the left side of Trace. */
export function RequirementsPane({ opens = 'requirement', label = 'Requirements' }: { opens?: 'requirement' | 'thread'; label?: string }) {
  const { data, error, isLoading } = useRequirementsQuery()
  const trail = usePaneTrail()
  const people = usePeople()
  const [isBeginning, setIsBeginning] = useState(false)
  const [isImporting, setIsImporting] = useState(false)
  const mayBegin = opens === 'requirement' && people.may('requirements.write')
  const rows = data?.rows ?? []
  const toId = (key: string) => (opens === 'thread' ? `requirement:${key}` : key)
  return (
    <Pane
      label={label}
      title={
        <>
          {label} <span className="ml-1 text-[13px] font-normal text-ink-2">{opens === 'thread' ? 'by requirement' : ''}</span>
        </>
      }
      foot={
        mayBegin && (
          <div className="flex flex-wrap items-baseline gap-3">
            <Button look="line" onClick={() => setIsBeginning(true)}>
              Begin a requirement…
            </Button>
            <Button look="line" onClick={() => setIsImporting(true)}>
              Bring some in…
            </Button>
            {rows.length > 0 && (
              <a className="link" href={`/api/v1/requirements.csv?project=${people.me?.project.prefix ?? ''}`} download>
                all as CSV
              </a>
            )}
          </div>
        )
      }
    >
      {isImporting && <ImportRequirementsDialog rows={rows} onClose={() => setIsImporting(false)} />}
      {isBeginning && <BeginRequirementDialog rows={rows} onClose={() => setIsBeginning(false)} />}
      <Pending error={error} isLoading={isLoading} />
      {data && rows.length === 0 && (
        <Quiet>No requirement is written yet.{mayBegin ? ' Begin one below: a sentence that says what is asked for.' : ''}</Quiet>
      )}
      {rows.length > 0 && (
        <RowList
          label={label}
          rows={rows}
          idOf={(row) => toId(row.key)}
          selectedId={trail.next?.id ?? null}
          onShow={(row, isStep) => trail.open({ kind: opens, id: toId(row.key) }, { isStep })}
          renderRow={(row) => (
            <div
              className={`flex min-w-0 flex-1 items-center gap-3 ${row.isHeading ? 'font-bold' : ''} ${row.isRetired ? 'text-ink-3 line-through' : ''}`}
            >
              <span className="w-[52px] shrink-0 font-mono text-[12px] font-normal text-ink-2">{row.key}</span>
              <span className="min-w-0 flex-1 truncate font-serif text-[14px]">{row.title}</span>
              {opens === 'requirement' && !row.isHeading && !row.isRetired && (
                <span className="shrink-0 text-[12px] text-ink-2">
                  {row.tests > 0 ? plural(row.tests, 'test') : <span className="text-ochre">no test</span>}
                </span>
              )}
              {row.brokenBy.length > 0 && (
                <span className="shrink-0 text-[12px] font-bold text-fault">
                  {opens === 'requirement' ? `broken by ${row.brokenBy.join(', ')}` : '✗'}
                </span>
              )}
            </div>
          )}
        />
      )}
    </Pane>
  )
}

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
        <Button look="text" onClick={() => trail.open({ kind: 'thread', id: `requirement:${data.key}` })}>
          thread
        </Button>
      }
      foot={may('requirements.write') && <RequirementDeeds data={data} />}
    >
      {data.isRetired && (
        <p role="status" className="mx-4 mt-3 border-l-2 border-ochre bg-ochre-soft px-2 py-1">
          Retired: it holds no more. {data.retiredWords}
        </p>
      )}
      <RequirementText key={data.key} data={data} />
      {data.isHeading ? <Below keys={data.children} /> : <Standing data={data} />}
      {data.revisions.length > 1 && (
        <div className="border-t border-edge px-4 py-3">
          <SectionHead>Earlier revisions</SectionHead>
          {data.revisions.slice(1).map((revision) => (
            <p key={revision.revision} className="font-serif text-ink-2">
              {revision.revision}: {revision.text}{' '}
              <span className="font-sans text-[12px]">
                <When atMs={revision.atMs} />
              </span>
            </p>
          ))}
        </div>
      )}
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
            {item.isSuspect && <span className="text-ochre">re-check</span>}
            <Stair stair={item.stair} hasComeBack={item.hasComeBack} />
          </p>
        ))}
      </div>
      <div className="border-t border-edge px-4 py-3">
        <SectionHead>Tests that prove it, on the newest build of main</SectionHead>
        {data.verifiedBy.length === 0 && <p className="text-ochre">No test names it. Put {data.key} into a test's name.</p>}
        {data.verifiedBy.map((test) => (
          <p key={test.test}>
            <span className={test.outcome === 'failed' ? 'font-bold text-fault' : 'text-proof'}>{test.outcome}</span> {test.test}{' '}
            <ThingLink to={test.build} />
          </p>
        ))}
      </div>
    </>
  )
}

/** The sentence of a requirement, and its writing: a changed text is a new revision. */
function RequirementText({ data }: { data: RequirementDetail }) {
  const people = usePeople()
  const [draft, setDraft] = useState<{ title: string; text: string } | null>(null)
  const [write] = useWriteRequirementMutation()
  const save = async () => {
    const result = await write({ key: data.key, title: data.title, ...draft, text: draft?.text ?? data.text })
    if (result.error) toast.error(problemText(result.error))
    else setDraft(null)
  }
  return (
    <div className="px-4 py-3">
      {draft === null ? (
        <p className="font-serif text-[15px] leading-relaxed">{data.text}</p>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault()
            void save()
          }}
        >
          <TextInput
            aria-label="Requirement title"
            maxLength={200}
            value={draft.title}
            onChange={(event) => setDraft({ ...draft, title: event.target.value })}
            className="mb-1 font-serif text-[15px]"
          />
          <TextArea
            aria-label="Requirement text"
            rows={5}
            value={draft.text}
            onChange={(event) => setDraft({ ...draft, text: event.target.value })}
            className="font-serif text-[15px]"
          />
          <p className="my-1 text-[12px] text-ink-2">
            This makes revision {data.revision + 1}; links made to revision {data.revision} will ask to be re-checked.
          </p>
          <div className="flex gap-2">
            <Button look="main" type="submit">
              Save revision {data.revision + 1}
            </Button>
            <Button onClick={() => setDraft(null)}>Leave as it was</Button>
          </div>
        </form>
      )}
      <p className="mt-2 text-[12px] text-ink-2">
        revision {data.revision}
        {people.may('requirements.write') && draft === null && (
          <>
            {' '}
            ·{' '}
            <button type="button" className="link" onClick={() => setDraft({ title: data.title, text: data.text })}>
              edit
            </button>
          </>
        )}
      </p>
    </div>
  )
}

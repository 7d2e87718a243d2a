import { useState } from 'react'
import { Agreements } from '#features/agreements/index'
import { KeptReports } from '#features/audits/index'
import { RequirementDocument } from '#features/document/index'
import { Glossary } from '#features/glossary/index'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Choose } from '#shared/ui/fields'
import { Button, Pending, Quiet } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { Ways } from '#shared/ui/Ways'
import { AttributesDialog } from './AttributesDialog'
import { BeginRequirementDialog } from './BeginRequirementDialog'
import { Baselines } from './Baselines'
import { GapList } from './GapList'
import { ImportRequirementsDialog } from './ImportRequirementsDialog'
import { WritingList } from './WritingList'
import { useBaselinesQuery, useGapsQuery, useRequirementsQuery } from './requirements.api'
import { apiRoot } from '#shared/lib/past'

const MODES = ['read', 'table', 'gaps', 'writing', 'words', 'agreed', 'baselines'] as const
type Mode = (typeof MODES)[number]

/** Requirements, read as the document that they are, as a table, or by what is missing. The way of looking stands in the address. */
export function RequirementsPane({ id }: { id: string }) {
  const { data, error, isLoading } = useRequirementsQuery()
  const trail = usePaneTrail()
  const people = usePeople()
  const [dialog, setDialog] = useState<'begin' | 'import' | 'attributes' | null>(null)
  const project = people.me?.project.prefix ?? ''
  const { data: gaps } = useGapsQuery(project, { skip: project === '' })
  const mode = MODES.find((known) => known === id) ?? 'read'
  const openGaps = gaps?.counts.reduce((sum, count) => sum + count.open, 0) ?? 0
  const mayBegin = people.may('requirements.write')
  const rows = data?.rows ?? []
  const word = (one: Mode) => (one === 'gaps' && openGaps > 0 ? `gaps ${openGaps}` : one)
  return (
    <Pane
      label="Requirements"
      title="Requirements"
      aside={<Ways ways={MODES} current={mode} wordOf={word} onChoose={(one) => trail.rename(one === 'read' ? '' : one)} />}
      foot={
        (mayBegin || rows.length > 0) && (
          <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
            {mayBegin && (
              <>
                <Button look="line" onClick={() => setDialog('begin')}>
                  Begin a requirement…
                </Button>
                <Button look="line" onClick={() => setDialog('import')}>
                  Bring some in…
                </Button>
                <Button look="line" onClick={() => setDialog('attributes')}>
                  Attributes…
                </Button>
              </>
            )}
            {rows.length > 0 && <Downloads project={project} />}
            {rows.length > 0 && <AuditReports project={project} />}
          </div>
        )
      }
    >
      {dialog === 'import' && <ImportRequirementsDialog onClose={() => setDialog(null)} />}
      {dialog === 'attributes' && <AttributesDialog project={project} onClose={() => setDialog(null)} />}
      {dialog === 'begin' && <BeginRequirementDialog rows={rows} onClose={() => setDialog(null)} />}
      <Pending error={error} isLoading={isLoading} />
      {data && rows.length === 0 && (
        <Quiet>No requirement is written yet.{mayBegin ? ' Begin one below: a sentence that says what is asked for.' : ''}</Quiet>
      )}
      {rows.length > 0 && mode === 'read' && <RequirementDocument rows={rows} />}
      {rows.length > 0 && mode === 'table' && <RequirementTable label="Requirements" opens="requirement" />}
      {rows.length > 0 && mode === 'writing' && <WritingList project={project} rows={rows} canAccept={mayBegin} />}
      {mode === 'words' && <Glossary project={project} rows={rows} canWrite={mayBegin} />}
      {rows.length > 0 && mode === 'agreed' && <Agreements project={project} canAsk={mayBegin} />}
      {rows.length > 0 && mode === 'baselines' && (
        <>
          <Baselines project={project} canMake={mayBegin} />
          <KeptReports project={project} canKeep={mayBegin} />
        </>
      )}
      {(rows.length > 0 || openGaps > 0) && mode === 'gaps' && gaps && <GapList project={project} gaps={gaps} canAgree={mayBegin} />}
    </Pane>
  )
}

const FORMS = [
  ['reqif', 'ReqIF'],
  ['reqifz', 'ReqIF with pictures'],
  ['csv', 'CSV'],
  ['jsonl', 'JSON lines'],
  ['md', 'Markdown'],
  ['html', 'a page'],
] as const

const REPORTS = [
  ['html', 'a page'],
  ['pdf', 'PDF'],
  ['csv', 'CSV'],
  ['json', 'JSON'],
] as const

/** The report for an audit, as it stands now; where a baseline is chosen, with what changed since. */
function AuditReports({ project }: { project: string }) {
  const { data } = useBaselinesQuery(project)
  const [against, setAgainst] = useState('')
  const query = against === '' ? '' : `?against=${against}`
  return (
    <span className="text-ink-2">
      report for an audit as{' '}
      {REPORTS.map(([form, words], at) => (
        <span key={form}>
          {at > 0 && ', '}
          <a className="link" href={`${apiRoot}/projects/${project}/audit-report.${form}${query}`} target="_blank" rel="noreferrer">
            {words}
          </a>
        </span>
      ))}
      {(data?.rows.length ?? 0) > 0 && (
        <>
          {' with what changed since '}
          <Choose
            aria-label="Changes since"
            className="inline-block! w-auto! py-0.5!"
            none="nothing"
            value={against}
            choices={(data?.rows ?? []).map(({ baselineId, name }) => ({ value: baselineId, label: name }))}
            onChange={({ target }) => setAgainst(target.value)}
          />
        </>
      )}
    </span>
  )
}

function Downloads({ project }: { project: string }) {
  return (
    <span className="text-ink-2">
      all as{' '}
      {FORMS.map(([form, words], at) => (
        <span key={form}>
          {at > 0 && ', '}
          <a className="link" href={`${apiRoot}/requirements.${form}?project=${project}`} download>
            {words}
          </a>
        </span>
      ))}
    </span>
  )
}

/** Requirements, a row each, in document order; used as the left side of Trace, too, where a row opens its thread. */
export function RequirementTable({ label, opens }: { label: string; opens: 'requirement' | 'thread' }) {
  const { data } = useRequirementsQuery()
  const trail = usePaneTrail()
  const toId = (key: string) => (opens === 'thread' ? `requirement:${key}` : key)
  return (
    <RowList
      label={label}
      rows={data?.rows ?? []}
      idOf={(row) => toId(row.key)}
      selectedId={trail.next?.id ?? null}
      onShow={(row, isStep) => trail.open({ kind: opens, id: toId(row.key) }, { isStep })}
      renderRow={(row) => (
        <div
          className={`flex min-w-0 flex-1 items-center gap-3
            ${row.isHeading ? 'font-bold' : ''} ${row.isRetired ? 'text-ink-3 line-through' : ''}`}
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
              {opens === 'requirement' ? `broken by ${row.brokenBy.join(', ')}` : 'broken'}
            </span>
          )}
        </div>
      )}
    />
  )
}

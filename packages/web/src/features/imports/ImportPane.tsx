import type { Import } from '@dystracer/core/imports/wire'
import {
  IMPORT_FIELDS,
  type ImportField,
  type ImportMapping,
  type ImportValues,
  type RenewedField,
} from '@dystracer/core/imports/import-fields'
import type { OwnPlace } from '@dystracer/core/setup/own-field'
import { useEffect, useState } from 'react'
import { toast } from 'sonner'
import { uploadImport } from './upload'
import { importsApi, useCancelImportMutation, useImportQuery, useRunImportMutation } from './imports.api'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { useAppDispatch } from '#shared/lib/store'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Choose } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, SectionHead } from '#shared/ui/parts'
import { ImportChanges } from './ImportChanges'
import { ImportWords } from './ImportWords'

const PROBLEM_TEXT: Record<string, string> = {
  'no-title': 'has neither a title nor a text: left out',
  'title-cut': 'title cut to 200 characters',
  'text-cut': 'text cut to 100,000 characters',
  'doubled-id': 'this id stood above already: left out',
  'unknown-person': 'nobody here is called so: without an owner',
  'unknown-component': 'no such component: without one',
  'unknown-type': 'no such type: a defect',
  'unknown-priority': 'no such priority: without one',
  'wrong-day': 'is no day: without one',
  'wrong-severity': 'is no severity: to be decided',
  'wrong-number': 'is no number: without one',
  'unknown-parent': 'no row has this id: without a parent',
  'parent-loop': 'would close a loop: without a parent',
  'wrong-own-value': 'is nothing that this field can hold: without it',
  'no-address': 'is no address of a file: not attached',
  'not-fetched': 'its address stands in a comment',
  refused: 'left out',
  'unknown-status': 'no status that is known here: kept in its text',
  'unknown-resolution': 'no way of ending that is known here',
  'unknown-reporter': 'nobody here is called so: the name alone is kept',
  'wrong-time': 'is no time that has been: without one',
  'wrong-duration': 'is no duration such as 1h 30m: without one',
  'unknown-link': 'neither a row nor an item here: not tied',
  'unknown-requirement': 'no such requirement: not tied',
  'labels-cut': 'too long, or more than 20 labels: cut',
  'comments-cut': 'too long, or more than 500 comments: cut',
  'too-many-cells': 'cells, more than the heading: left out',
  'too-few-cells': 'cells: the missing ones are taken for empty',
  'not-renewed': 'its item stays as it is',
  'not-json': 'is no JSON object: left out, the others can be imported without it',
}

/**
 * Items from a CSV or JSON Lines file: choose it, say what its columns are, try it, import it. Nothing is logged before the last step, and
 * nothing twice.
 */
export function ImportPane() {
  const { me, may } = usePeople()
  const project = me?.project.prefix ?? ''
  const [importId, setImportId] = useState<string | null>(null)
  const [error, setError] = useState<string | null>(null)
  const dispatch = useAppDispatch()
  const take = async (file: File) => {
    setError(null)
    const result = await uploadImport(project, file)
    if ('error' in result) return setError(problemText(result.error))
    dispatch(importsApi.util.upsertQueryData('import', result.data.importId, result.data))
    setImportId(result.data.importId)
  }
  return (
    <Pane label="Import" title="Import items">
      <div className="space-y-3 px-4 py-3">
        {may('imports.run') ? (
          <label className="block border border-dashed border-edge px-3 py-3">
            <span className="block">
              A CSV file, JSON Lines or a JSON list. Nothing is logged before you have seen what will come of it.
            </span>
            <input
              type="file"
              aria-label="File"
              accept=".csv,.tsv,.txt,.jsonl,.json,.ndjson"
              className="mt-2"
              onChange={(event) => {
                const file = event.target.files?.[0]
                if (file) void take(file)
                event.target.value = ''
              }}
            />
          </label>
        ) : (
          <p className="text-ochre">A lead imports items.</p>
        )}
        {error && (
          <p role="alert" className="text-fault">
            {error}
          </p>
        )}
        {importId && <Steps key={importId} importId={importId} />}
      </div>
    </Pane>
  )
}

function Steps({ importId }: { importId: string }) {
  const [isBusy, setIsBusy] = useState(false)
  const { data } = useImportQuery(importId, { pollingInterval: isBusy ? 400 : 0 })
  const [mapping, setMapping] = useState<ImportMapping | null>(null)
  const [said, setSaid] = useState<ImportValues | null>(null)
  const [takes, setTakes] = useState<readonly RenewedField[]>([])
  const [run] = useRunImportMutation()
  const [cancel] = useCancelImportMutation()
  const trail = usePaneTrail()
  const dispatch = useAppDispatch()
  const phase = data?.phase
  // The server works behind its answer: it is asked how far it is until it is through.
  useEffect(() => {
    setIsBusy(phase === 'trying' || phase === 'running')
    if (phase === 'done') dispatch(importsApi.util.invalidateTags(['Items', 'LongItems', 'Triage', 'Overview']))
  }, [phase, dispatch])
  const { me } = usePeople()
  if (!data) return null
  const choices = [
    ...IMPORT_FIELDS.map((field) => ({ value: field as string, label: field as string })),
    ...(me?.setup.ownFields ?? []).map(({ fieldId, name }) => ({ value: `own.${fieldId}`, label: name })),
  ]
  const chosen = mapping ?? data.mapping
  const values = said ?? data.values
  const start = async (isTrial: boolean) => {
    const result = await run({ importId, mapping: chosen, values, takes: [...takes], isTrial })
    if (result.error) toast.error(problemText(result.error))
    else setIsBusy(true)
  }
  const isUnderWay = phase === 'trying' || phase === 'running'
  return (
    <>
      <section aria-label="Columns">
        <SectionHead>
          {data.name}: {plural(data.rows, 'row')}
          {data.encoding !== 'utf-8' && `, read as ${data.encoding}`}
        </SectionHead>
        <table className="w-full text-left">
          <thead>
            <tr className="text-[12px] text-ink-3">
              <th className="font-normal">Column</th>
              <th className="font-normal">becomes</th>
              <th className="font-normal">stands in the first rows</th>
            </tr>
          </thead>
          <tbody>
            {data.columns.map((column) => (
              <tr key={column} className="border-b border-edge-soft">
                <td className="py-0.5 pr-2 font-mono text-[12px]">{column}</td>
                <td className="w-[130px]">
                  <Choose
                    aria-label={`${column} becomes`}
                    className="py-0.5!"
                    disabled={isUnderWay}
                    none="nothing"
                    value={chosen[column] ?? ''}
                    choices={choices}
                    onChange={(event) => {
                      const { [column]: _before, ...others } = chosen
                      const field = event.target.value as ImportField | OwnPlace | ''
                      setMapping(field === '' ? others : { ...others, [column]: field })
                    }}
                  />
                </td>
                <td className="max-w-0 truncate pl-2 text-[12px] text-ink-2">
                  {data.sample
                    .map((row) => row[column])
                    .filter(Boolean)
                    .join(' · ')}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <ImportWords
        seen={data.seen}
        values={values}
        isLocked={isUnderWay || phase === 'done'}
        onSay={(field, text, becomes) => setSaid({ ...values, [field]: { ...values[field], [text]: becomes } })}
      />
      <ImportChanges data={data} takes={takes} isLocked={isUnderWay || phase === 'done'} onTakes={setTakes} />
      <div className="flex flex-wrap items-center gap-3">
        <Button disabled={isUnderWay} onClick={() => void start(true)}>
          {said === null ? 'Try it' : 'Try it again'}
        </Button>
        {(phase === 'tried' || phase === 'cancelled') && (
          <Button look="main" onClick={() => void start(false)}>
            {data.fresh > 0 || takes.length === 0 ? `Import ${plural(data.fresh, 'item')}` : 'Take what is chosen over'}
          </Button>
        )}
        {isUnderWay && (
          <>
            <progress aria-label="Progress" max={data.totalRows ?? 1} value={data.doneRows} className="w-[200px]" />
            <span role="status">
              {phase === 'trying' ? 'Trying' : 'Importing'}: {data.doneRows} of {data.totalRows}
            </span>
            <Button onClick={() => void cancel(importId)}>Stop</Button>
          </>
        )}
        {phase === 'done' && (
          <Button look="text" onClick={() => trail.open({ kind: 'triage', id: '' })}>
            They wait in Triage
          </Button>
        )}
      </div>
      <Outcome data={data} />
    </>
  )
}

function Outcome({ data }: { data: Import }) {
  if (data.phase === 'read') return null
  const words = {
    trying: 'So far',
    tried: 'This would happen',
    running: 'So far',
    done: 'Done',
    cancelled: 'Stopped',
    failed: 'It failed',
  }[data.phase]
  return (
    <section aria-label="What comes of it">
      <p role="status">
        <b>{words}:</b> {plural(data.fresh, 'new item')}, {data.known} known already
        {data.renewed > 0 && `, of which ${data.renewed} take what the file says`}, {plural(data.leftOut, 'row')} left out,{' '}
        {plural(data.linked, 'tie')} to other rows, items and requirements
        {data.attached > 0 && `, ${plural(data.attached, 'file')} from their addresses`}. {data.why}
      </p>
      {data.problems.length > 0 && (
        <>
          <SectionHead>
            {data.problemCount > data.problems.length
              ? `The first ${data.problems.length} of ${data.problemCount} problems`
              : plural(data.problemCount, 'problem')}
          </SectionHead>
          <table className="w-full text-left">
            <tbody>
              {data.problems.map((problem) => (
                <tr key={`${problem.row}${problem.code}${problem.column}`} className="border-b border-edge-soft align-top">
                  <td className="w-[64px] text-ink-3">row {problem.row}</td>
                  <td className="w-[110px] font-mono text-[12px]">{problem.column}</td>
                  <td>
                    {problem.value && <span className="font-mono text-[12px]">{problem.value} </span>}
                    <span className="text-ink-2">{PROBLEM_TEXT[problem.code] ?? problem.code}</span>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </section>
  )
}

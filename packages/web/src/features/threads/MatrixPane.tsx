import { foldMatrix, MATRIX_COLUMNS, narrowMatrix, type MatrixColumn } from '@dystracer/core/threads/matrix'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import { useActMutation, useUntieMutation } from '#features/items/items.api'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { segmentOf, type Segment } from '#shared/lib/trail'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Choose, TextInput } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet } from '#shared/ui/parts'
import { MatrixGrid, type MatrixPlace } from './MatrixGrid'
import { useMatrixQuery } from './threads.api'
import { apiRoot } from '#shared/lib/past'

const WORDS: Record<MatrixColumn, string> = { item: 'items', test: 'tests', release: 'releases', component: 'components' }
const NOTHING: Record<MatrixColumn, string> = {
  item: 'No item is tied to a requirement yet.',
  test: 'No test names a requirement yet: put its key into the name of a test.',
  release: 'No release holds work for a requirement yet.',
  component: 'No item with a component is tied to a requirement yet.',
}

/**
 * Requirements against something: what holds, what is only said, what has to be looked at, what is
 * broken, and the empty places between.
 */
export function MatrixPane({ id }: { id: string }) {
  const trail = usePaneTrail()
  const project = usePeople().me?.project.prefix ?? ''
  const columns = MATRIX_COLUMNS.find((known) => known === id) ?? 'item'
  const { data, error, isLoading } = useMatrixQuery({ project, columns }, { skip: project === '' })
  const [wanted, narrow] = useState({ rows: '', columns: '', gapsFirst: false, onlyFilled: false })
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set())
  const [place, setPlace] = useState<MatrixPlace | null>(null)
  const matrix = useMemo(
    () => data && foldMatrix(narrowMatrix(data, wanted), wanted.gapsFirst ? new Set() : folded),
    [data, wanted, folded],
  )
  // Another choice of rows and columns puts something else where one stood.
  const setWanted = (next: typeof wanted) => {
    narrow(next)
    setPlace(null)
  }
  const toggle = (key: string) =>
    setFolded((before) => (before.has(key) ? new Set([...before].filter((one) => one !== key)) : new Set([...before, key])))
  return (
    <Pane
      label="Matrix"
      title="Matrix"
      aside={
        <>
          <Choose
            aria-label="Requirements against"
            className="w-auto! py-0.5!"
            value={columns}
            choices={MATRIX_COLUMNS.map((value) => ({ value, label: `requirements × ${WORDS[value]}` }))}
            onChange={({ target }) => trail.rename(target.value === 'item' ? '' : target.value)}
          />
          {(['csv', 'html'] as const).map((form) => (
            <a key={form} className="link" href={`${apiRoot}/projects/${project}/matrix.${form}?columns=${columns}`} download>
              {form === 'csv' ? 'as CSV' : 'as a page'}
            </a>
          ))}
        </>
      }
      foot={place && <PlaceLine place={place} columns={columns} onDone={() => setPlace(null)} />}
    >
      <Pending error={error} isLoading={isLoading} />
      {data && data.columns.length === 0 && <Quiet>{NOTHING[columns]}</Quiet>}
      {data && data.columns.length > 0 && matrix && (
        <div className="flex h-full min-h-0 flex-col">
          <div className="flex flex-wrap items-center gap-3 border-b border-edge px-3 py-1.5">
            <TextInput
              aria-label="Requirements with"
              placeholder="requirements with …"
              className="w-44! py-0.5!"
              value={wanted.rows}
              onChange={(event) => setWanted({ ...wanted, rows: event.target.value })}
            />
            <TextInput
              aria-label="Columns with"
              placeholder={`${WORDS[columns]} with …`}
              className="w-44! py-0.5!"
              value={wanted.columns}
              onChange={(event) => setWanted({ ...wanted, columns: event.target.value })}
            />
            <Check label="gaps first" isOn={wanted.gapsFirst} onChange={(gapsFirst) => setWanted({ ...wanted, gapsFirst })} />
            <Check label="no empty columns" isOn={wanted.onlyFilled} onChange={(onlyFilled) => setWanted({ ...wanted, onlyFilled })} />
            <Button
              look="line"
              onClick={() =>
                setFolded(folded.size > 0 ? new Set() : new Set(data.rows.filter(({ isHeading }) => isHeading).map(({ key }) => key)))
              }
            >
              {folded.size > 0 ? 'unfold chapters' : 'fold chapters'}
            </Button>
            <span className="text-[12px] text-ink-2">
              {plural(matrix.rows.length, 'row')}, {plural(matrix.columns.length, 'column')}
            </span>
          </div>
          <MatrixGrid
            matrix={matrix}
            folded={folded}
            onFold={toggle}
            onPlace={setPlace}
            onOpen={(opened) => trail.open(segmentOf({ kind: 'requirement', id: opened.row.key }))}
          />
        </div>
      )}
    </Pane>
  )
}

function Check({ label, isOn, onChange }: { label: string; isOn: boolean; onChange: (isOn: boolean) => void }) {
  return (
    <label className="flex items-center gap-1">
      <input type="checkbox" checked={isOn} onChange={(event) => onChange(event.target.checked)} /> {label}
    </label>
  )
}

/** The pane of a column; none for what has none. */
function segmentOfColumn(columns: MatrixColumn, id: string): Segment | null {
  if (columns === 'item') return segmentOf({ kind: 'item', id })
  if (columns === 'release') return segmentOf({ kind: 'release', id })
  return null
}

/** What a place of the matrix says, and what can be done there: a tie of an item is made or taken back. */
function PlaceLine({ place: { row, column, cell }, columns, onDone }: { place: MatrixPlace; columns: MatrixColumn; onDone: () => void }) {
  const trail = usePaneTrail()
  const { may } = usePeople()
  const [act, { isLoading }] = useActMutation()
  const [takeBack] = useUntieMutation()
  const mayTie = columns === 'item' && may('items.change') && !row.isHeading
  const told = (result: { error?: unknown }, words: string) => {
    if (result.error) toast.error(problemText(result.error))
    else {
      toast.success(words)
      onDone()
    }
  }
  const tie = () =>
    void act({ act: 'links', key: column.id, body: { kind: 'implements', to: { kind: 'requirement', id: row.key } } }).then((result) =>
      told(result, `${column.id} implements ${row.key}`),
    )
  const untie = (linkId: string) => void takeBack({ key: column.id, linkId }).then((result) => told(result, `${column.id} is tied no more`))
  const segment = segmentOfColumn(columns, column.id)
  return (
    <div className="flex flex-wrap items-baseline gap-3">
      <Button look="line" onClick={() => trail.open(segmentOf({ kind: 'requirement', id: row.key }))}>
        {row.key}
      </Button>
      {segment ? (
        <Button look="line" onClick={() => trail.open(segment)}>
          {column.id}
        </Button>
      ) : (
        <span>{column.title}</span>
      )}
      <span className="text-ink-2">{cell?.words ?? 'nothing'}</span>
      {mayTie && cell === null && (
        <Button look="line" disabled={isLoading} onClick={tie}>
          say that it implements it
        </Button>
      )}
      {mayTie && cell?.linkId && (
        <Button look="line" disabled={isLoading} onClick={() => untie(cell.linkId as string)}>
          untie
        </Button>
      )}
    </div>
  )
}

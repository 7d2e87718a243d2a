import type { FoundLines as Found } from '@dystracer/core/files/wire'
import { plural } from '#shared/lib/format'
import { useDelayed } from '#shared/lib/use-delayed'
import { usePaneTrail } from '#shared/lib/use-trail'
import { TextInput } from '#shared/ui/fields'
import { Pending, Quiet } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { useFoundLinesQuery } from './files.api'

type Line = Found['rows'][number]

/** Looks for a text in the files of all main lines; a line opens the file where it stands. */
export function FoundLines({ text, onText }: { text: string; onText: (text: string) => void }) {
  const q = useDelayed(text.trim(), 250)
  const { currentData: data, error, isFetching } = useFoundLinesQuery({ q }, { skip: q.length < 2 })
  const trail = usePaneTrail()
  const idOf = (row: Line) => `${row.repository}/${row.path}:${row.line}`
  return (
    <div className="flex h-full flex-col">
      <div className="border-b border-edge-soft px-3 py-1">
        <TextInput
          aria-label="Find in code"
          placeholder="a text, as it stands in the code"
          className="border-0! px-0! py-1! font-mono text-[12px]"
          maxLength={200}
          value={text}
          onChange={(event) => onText(event.target.value)}
        />
      </div>
      <Pending error={error} isLoading={isFetching && !data} />
      {data && (
        <p role="status" className="m-0 px-3 py-1 text-[12px] text-ink-2">
          {data.rows.length === 0
            ? 'No file of a main line holds it.'
            : `${plural(data.rows.length, 'line')}${data.isCut ? ', and more' : ''}`}
        </p>
      )}
      {!data && q.length < 2 && <Quiet>Type at least two characters. The newest state of every main line is looked through.</Quiet>}
      <div className="min-h-0 flex-1">
        {data && data.rows.length > 0 && (
          <RowList
            label="Lines found"
            rows={data.rows}
            rowHeightPx={44}
            idOf={idOf}
            selectedId={trail.next?.kind === 'file' ? trail.next.id : null}
            onShow={(row, isStep) => trail.open({ kind: 'file', id: idOf(row) }, { isStep })}
            renderRow={(row) => (
              <div className="min-w-0 flex-1 py-1">
                <p className="m-0 truncate font-mono text-[12px]">{row.text.trim()}</p>
                <p className="m-0 truncate text-[12px] text-ink-2">
                  {row.repository} · {row.path}:{row.line}
                </p>
              </div>
            )}
          />
        )}
      </div>
    </div>
  )
}

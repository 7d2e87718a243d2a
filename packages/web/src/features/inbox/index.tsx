import type { Notice } from '@dystracer/core/contract/inbox'
import { useNoticesQuery, useReadNoticesMutation } from '../../shared/lib/api'
import { age } from '../../shared/lib/format'
import { usePeople } from '../../shared/lib/use-people'
import { usePaneTrail } from '../../shared/lib/use-trail'
import { Pane } from '../../shared/ui/Pane'
import { Button, Pending, Quiet } from '../../shared/ui/parts'
import { RowList } from '../../shared/ui/RowList'

const WHY: Record<Notice['why'], string> = { assigned: 'yours', mentioned: 'mentioned', followed: 'news', 'reported-again': 'again' }

/** What I was told: opening one reads it. */
export function InboxPane() {
  const { data, error, isLoading } = useNoticesQuery({})
  const [read] = useReadNoticesMutation()
  const people = usePeople()
  const trail = usePaneTrail()
  const rows = data?.rows ?? []
  const unread = rows.filter((row) => !row.isRead)
  return (
    <Pane
      label="Inbox"
      title={
        <>
          Inbox <span className="ml-1 text-[13px] font-normal text-ink-2">{unread.length > 0 ? `${unread.length} unread` : ''}</span>
        </>
      }
      aside={
        unread.length > 0 && (
          <Button look="text" onClick={() => void read(unread.map((row) => row.noticeId))}>
            All read
          </Button>
        )
      }
    >
      <Pending error={error} isLoading={isLoading} />
      {data && rows.length === 0 && <Quiet>Nothing yet. What is given to you, mentions you or moves on what you follow will stand here.</Quiet>}
      {rows.length > 0 && (
        <RowList
          label="Inbox"
          rows={rows}
          rowHeightPx={46}
          idOf={(row) => row.noticeId}
          selectedId={rows.find((row) => trail.next?.kind === 'item' && row.itemKey === trail.next.id)?.noticeId ?? null}
          onShow={(row, isStep) => {
            trail.open({ kind: 'item', id: row.itemKey }, { isStep })
            if (!row.isRead) void read([row.noticeId])
          }}
          renderRow={(row) => (
            <div className="flex min-w-0 flex-1 items-center gap-3 py-1">
              <span className={`w-[70px] shrink-0 font-mono text-[12px] ${row.isRead ? 'text-ink-3' : 'font-bold'}`}>{WHY[row.why]}</span>
              <span className="min-w-0 flex-1">
                <span className={`block truncate ${row.isRead ? '' : 'font-bold'}`}>
                  {row.itemKey} {row.title}
                </span>
                <span className="block truncate text-[12px] text-ink-2">
                  {people.nameOf(row.by)}: {row.words}
                </span>
              </span>
              <span className="shrink-0 text-[12px] text-ink-3">{age(row.atMs)}</span>
            </div>
          )}
        />
      )}
    </Pane>
  )
}

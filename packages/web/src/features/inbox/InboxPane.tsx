import { actionOf } from '#shared/lib/keys'
import { INBOX_VIEWS, type NoticeGroup } from '@dystracer/core/inbox/wire'
import { addDays, addHours, nextMonday, set as setTime } from 'date-fns'
import { useCallback, useState, type KeyboardEvent } from 'react'
import { toast } from 'sonner'
import { useInboxQuery, useReadNoticesMutation, useSnoozeMutation } from './inbox.api'
import { age, shortDate } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { usePeople } from '#features/people/index'
import { useSteadyRows } from '#shared/lib/use-steady-rows'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Choose } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { Stair } from '#shared/ui/Stair'
import { WHY_WORD } from './why-text'

const PAGE = 60
const PAGE_MAX = 500
type View = (typeof INBOX_VIEWS)[number]
const NOTHING: Record<View, string> = {
  unread: 'Nothing unread. What is given to you, mentions you or moves on what you follow will stand here.',
  all: 'Nothing yet. What is given to you, mentions you or moves on what you follow will stand here.',
  later: 'Nothing is put off. With “l” an item’s news comes back tomorrow morning.',
}
const tomorrowMorning = () => setTime(addDays(new Date(), 1), { hours: 9, minutes: 0, seconds: 0, milliseconds: 0 }).getTime()
const LATER: { value: string; label: string; untilMs: () => number }[] = [
  { value: 'hour', label: 'in an hour', untilMs: () => addHours(new Date(), 1).getTime() },
  { value: 'tomorrow', label: 'tomorrow at 9', untilMs: tomorrowMorning },
  { value: 'monday', label: 'on Monday', untilMs: () => setTime(nextMonday(new Date()), { hours: 9, minutes: 0, seconds: 0 }).getTime() },
]

/** What I was told, gathered by item. Opening one shows the item; `e` marks it read, `l` puts it off until tomorrow. */
export function InboxPane() {
  const [view, setView] = useState<View>('unread')
  const [limit, setLimit] = useState(PAGE)
  const { data, error, isLoading, isFetching } = useInboxQuery({ view, limit })
  const [read] = useReadNoticesMutation()
  const [putOff] = useSnoozeMutation()
  const trail = usePaneTrail()
  const openKey = trail.next?.kind === 'item' ? trail.next.id : null
  const { shown: rows, fresh, showFresh } = useSteadyRows(data?.rows ?? [], (row) => row.itemKey, openKey !== null)
  const hasMore = data !== undefined && data.nextCursor !== null && !isFetching
  const onNearEnd = useCallback(() => {
    if (hasMore) setLimit((now) => Math.min(PAGE_MAX, now + PAGE))
  }, [hasMore])
  const done = (key: string) => {
    const at = rows.findIndex((row) => row.itemKey === key)
    const next = rows[at + 1] ?? rows[at - 1]
    if (next && next.itemKey !== key) trail.open({ kind: 'item', id: next.itemKey }, { isStep: true })
  }
  const markRead = (key: string) => {
    done(key)
    void read({ keys: [key] }).then(tellRefusal)
  }
  const later = (key: string, untilMs: number | null) => {
    done(key)
    void putOff({ key, untilMs }).then((result) =>
      result.error
        ? toast.error(problemText(result.error))
        : toast.success(untilMs === null ? `${key} is back` : `${key} comes back ${shortDate(untilMs)}`),
    )
  }
  const readAll = () => void read({ keys: rows.filter((row) => row.unread > 0).map((row) => row.itemKey) })
  const selected = rows.find((row) => row.itemKey === openKey)
  const onKey = (event: KeyboardEvent, row: NoticeGroup | undefined): boolean => {
    const action = actionOf('inbox', event)
    if (!row || action === null) return false
    if (action === 'read') markRead(row.itemKey)
    else later(row.itemKey, view === 'later' ? null : tomorrowMorning())
    return true
  }
  return (
    <Pane
      label="Inbox"
      title="Inbox"
      aside={
        <>
          {fresh > 0 && (
            <Button look="line" onClick={showFresh}>
              {fresh} new
            </Button>
          )}
          <fieldset aria-label="Which" className="m-0 flex gap-2 border-0 p-0">
            {INBOX_VIEWS.map((known) => (
              <button
                key={known}
                type="button"
                aria-pressed={view === known}
                className={view === known ? 'font-bold text-ink' : 'text-ink-2'}
                onClick={() => {
                  setView(known)
                  setLimit(PAGE)
                }}
              >
                {known}
              </button>
            ))}
          </fieldset>
        </>
      }
      foot={<InboxFoot rows={rows} selected={selected} view={view} onRead={markRead} onLater={later} onReadAll={readAll} />}
    >
      <Pending error={error} isLoading={isLoading} />
      {data && rows.length === 0 && <Quiet>{NOTHING[view]}</Quiet>}
      {rows.length > 0 && (
        <RowList
          label="Inbox"
          rows={rows}
          rowHeightPx={52}
          idOf={(row) => row.itemKey}
          selectedId={openKey}
          onKey={onKey}
          onNearEnd={onNearEnd}
          onShow={(row, isStep) => trail.open({ kind: 'item', id: row.itemKey }, { isStep })}
          renderRow={(row) => <GroupRow row={row} isLater={view === 'later'} />}
        />
      )}
    </Pane>
  )
}

/** What can be done with the item that is open beside the list, and with all that is shown. */
function InboxFoot({
  rows,
  selected,
  view,
  onRead,
  onLater,
  onReadAll,
}: {
  rows: readonly NoticeGroup[]
  selected: NoticeGroup | undefined
  view: View
  onRead: (key: string) => void
  onLater: (key: string, untilMs: number | null) => void
  onReadAll: () => void
}) {
  const trail = usePaneTrail()
  return (
    <div className="flex items-center gap-3 text-[12px]">
      {selected && view !== 'later' && selected.unread > 0 && (
        <>
          <Button look="line" onClick={() => onRead(selected.itemKey)}>
            Read {selected.itemKey}
          </Button>
          <Choose
            aria-label={`Put ${selected.itemKey} off`}
            className="w-auto! border-0! p-0! text-[12px]"
            value=""
            none="later …"
            choices={LATER}
            onChange={(event) => {
              const chosen = LATER.find((entry) => entry.value === event.target.value)
              if (chosen) onLater(selected.itemKey, chosen.untilMs())
            }}
          />
        </>
      )}
      {selected && view === 'later' && (
        <Button look="line" onClick={() => onLater(selected.itemKey, null)}>
          Bring {selected.itemKey} back
        </Button>
      )}
      <Button look="line" disabled={!rows.some((row) => row.unread > 0)} onClick={onReadAll}>
        Mark all shown as read
      </Button>
      <Button look="line" onClick={() => trail.open({ kind: 'choices', id: '' })}>
        How you are told
      </Button>
    </div>
  )
}

function GroupRow({ row, isLater }: { row: NoticeGroup; isLater: boolean }) {
  const { nameOf } = usePeople()
  const [newest] = row.notices
  if (!newest) return null
  const whys = [...new Set(row.notices.map((notice) => WHY_WORD[notice.why]))]
  return (
    <div className="flex min-w-0 flex-1 items-center gap-3 py-1">
      <span
        className={`w-[76px] shrink-0 truncate font-mono text-[12px] ${row.unread > 0 ? 'font-bold' : 'text-ink-3'}`}
        title={whys.join(', ')}
      >
        {whys[0]}
        {row.notices.length > 1 && <span className="font-normal text-ink-3"> ×{row.notices.length}</span>}
      </span>
      <span className="min-w-0 flex-1">
        <span className={`block truncate ${row.unread > 0 ? 'font-bold' : ''}`}>
          <span className="font-mono text-[12px] font-normal">{row.itemKey}</span> {row.title}
        </span>
        <span className="block truncate text-[12px] text-ink-2">
          {nameOf(newest.by)}: {newest.words}
        </span>
      </span>
      {row.stair && <Stair stair={row.stair} />}
      <span className="w-[56px] shrink-0 text-right text-[12px] text-ink-3">
        {row.snoozedUntilMs !== null && isLater ? shortDate(row.snoozedUntilMs) : age(row.newestAtMs)}
      </span>
    </div>
  )
}

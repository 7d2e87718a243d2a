import { historyText } from './history-text'
import { Redline } from './lazy-redline'
import type { HistoryEntry } from '@dystracer/core/records/wire'
import { Suspense, useState } from 'react'
import { toast } from 'sonner'
import { useHistoryInfiniteQuery } from '#features/items/items.api'
import { useUndoMutation } from '#features/undo/undo.api'
import { problemText } from '#shared/lib/problem-text'
import { usePeople } from '#features/people/index'
import { Button, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'

export function HistoryList({ itemKey }: { itemKey: string }) {
  const { data, hasNextPage, isFetching, fetchNextPage } = useHistoryInfiniteQuery(itemKey)
  const entries = data?.pages.flatMap((page) => page.rows) ?? []
  const { nameOf } = usePeople()
  const [undo] = useUndoMutation()
  return (
    <div className="border-t border-edge px-4 py-3">
      <SectionHead>History</SectionHead>
      <ol aria-label="History" className="m-0 list-none p-0">
        {entries.map((entry) => (
          <li key={entry.seq} className="grid grid-cols-[74px_1fr] gap-2 border-b border-edge-soft py-1">
            <span className="font-mono text-[12px] text-ink-3">
              <When atMs={entry.atMs} />
            </span>
            <span className="min-w-0 break-words">
              <b>{nameOf(entry.by)}</b> {historyText(entry, nameOf)} {entry.source && <ThingLink to={entry.source} />}
              {entry.cause && <span className="text-ink-3"> · {entry.cause}</span>}
              {entry.canUndo && (
                <Button
                  look="line"
                  className="ml-1"
                  aria-label={`Take back: ${historyText(entry, nameOf)}`}
                  onClick={() =>
                    void undo({ seq: entry.seq }).then((result) =>
                      result.error ? toast.error(problemText(result.error)) : toast.success('Taken back'),
                    )
                  }
                >
                  take back
                </Button>
              )}
              <TextChange entry={entry} />
            </span>
          </li>
        ))}
      </ol>
      {hasNextPage && (
        <Button look="line" disabled={isFetching} onClick={() => void fetchNextPage()}>
          {isFetching ? 'Reading …' : 'Earlier'}
        </Button>
      )}
    </div>
  )
}

/** How a text changed, word by word, once it is unfolded. */
function TextChange({ entry }: { entry: HistoryEntry }) {
  const [isOpen, setIsOpen] = useState(false)
  const change =
    entry.kind === 'comment-edited'
      ? { from: entry.facts.before, to: entry.facts.text }
      : entry.kind === 'item-changed'
        ? (entry.facts.changes as Record<string, { from: unknown; to: unknown }>).description
        : undefined
  if (!change) return null
  return (
    <>
      <Button look="line" className="ml-1" aria-expanded={isOpen} onClick={() => setIsOpen(!isOpen)}>
        {isOpen ? 'fold' : 'what changed'}
      </Button>
      {isOpen && (
        <Suspense fallback={null}>
          <Redline before={String(change.from ?? '')} after={String(change.to ?? '')} />
        </Suspense>
      )}
    </>
  )
}

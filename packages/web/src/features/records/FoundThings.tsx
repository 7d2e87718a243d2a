import type { NodeRef } from '@dystracer/core/basics/node-ref'
import { useSearchQuery } from '#features/desk/desk.api'
import { useDelayed } from '#shared/lib/use-delayed'

/** What is called by some words: those things of the wanted kinds that the search finds, a moment after the words stand still. */
export function useFound(text: string, kinds: readonly NodeRef['kind'][], exceptId = '') {
  const asked = useDelayed(text, 200)
  const { data } = useSearchQuery(asked, { skip: asked.trim() === '' })
  return {
    hits: (data?.hits ?? []).filter((hit) => kinds.includes(hit.ref.kind) && hit.ref.id !== exceptId),
    isAsked: asked.trim() !== '',
  }
}

/** The things that were found, each a button that takes it. */
export function FoundThings({ found, onTake }: { found: ReturnType<typeof useFound>; onTake: (ref: NodeRef) => void }) {
  return (
    <>
      <ul aria-label="Found" className="m-0 max-h-[220px] list-none overflow-y-auto p-0">
        {found.hits.map((hit) => (
          <li key={hit.ref.id}>
            <button
              type="button"
              className="flex w-full items-center gap-2 px-1 py-1 text-left hover:bg-mark"
              onClick={() => onTake(hit.ref)}
            >
              <span className="w-[110px] shrink-0 truncate font-mono text-[12px]">{hit.detail}</span>
              <span className="min-w-0 flex-1 truncate">{hit.title}</span>
            </button>
          </li>
        ))}
      </ul>
      {found.isAsked && found.hits.length === 0 && <p className="text-ink-3">Nothing is called that.</p>}
    </>
  )
}

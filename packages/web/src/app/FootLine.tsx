import { useAppSelector } from '../shared/lib/store'

const WORD = { live: 'live', connecting: 'connecting …', lost: 'connection lost, trying again' } as const
const KEYS: Record<string, string> = {
  triage: '1–5 accept at severity   x reject   ↑↓ rows   / find',
  items: '↑↓ rows   ←→ panes   ↵ open   ⌫ close   n log   m mine   / find',
}

/** Whether the page is live, and what keys do here. */
export function FootLine({ place, outsideUrl }: { place: string; outsideUrl: string | null }) {
  const live = useAppSelector((state) => state.shell.live)
  return (
    <footer className="flex h-[26px] items-center gap-6 border-t border-edge px-4 text-[12px] text-ink-2">
      <span role="status" className="flex items-center gap-2">
        <span aria-hidden="true" className={`h-[7px] w-[7px] rounded-full ${live === 'live' ? 'bg-proof' : 'bg-fault'}`} />
        {WORD[live]}
      </span>
      {outsideUrl && (
        <a className="link" href={outsideUrl} target="_blank" rel="noreferrer">
          Outside
        </a>
      )}
      <span className="ml-auto font-mono whitespace-pre max-[900px]:hidden">{KEYS[place] ?? '↑↓ rows   ←→ panes   ↵ open   ⌫ close   / find'}</span>
    </footer>
  )
}

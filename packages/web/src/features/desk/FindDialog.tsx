import { Command } from 'cmdk'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useSearchQuery } from './desk.api'
import { dialogOpened, themeChosen, useAppDispatch } from '#shared/lib/store'
import { PLACES, printTrail, segmentOf, titleOf } from '#shared/lib/trail'
import { Dialog } from '#shared/ui/Dialog'
import { Marked } from '#shared/ui/Marked'
import { Stair } from '#shared/ui/Stair'

const ROW = 'flex cursor-pointer items-center gap-3 px-4 py-1.5 data-[selected=true]:bg-mark'

/** One field: a key, a hash, words, the name of a place, or something to do. */
export function FindDialog({ isOpen, onClose }: { isOpen: boolean; onClose: () => void }) {
  const [q, setQ] = useState('')
  const { data } = useSearchQuery(q, { skip: !isOpen || q.trim() === '' })
  const navigate = useNavigate()
  const dispatch = useAppDispatch()
  const go = (address: string) => {
    onClose()
    setQ('')
    void navigate(address)
  }
  const words = q.trim().toLowerCase()
  const deeds = [
    { name: 'Log a defect', run: () => dispatch(dialogOpened('log')) },
    { name: 'New project', run: () => void navigate('/settings/new-project') },
    { name: 'Look back to an earlier day, a release or a baseline', run: () => dispatch(dialogOpened('past')) },
    { name: 'Sign in', run: () => dispatch(dialogOpened('sign-in')) },
    { name: 'Dark theme', run: () => dispatch(themeChosen('dark')) },
    { name: 'Light theme', run: () => dispatch(themeChosen('light')) },
  ].filter((deed) => words !== '' && deed.name.toLowerCase().includes(words))
  return (
    <Dialog title="Find anything, or type what to do" hideTitle isOpen={isOpen} onClose={onClose}>
      <Command shouldFilter={false} label="Find">
        <Command.Input
          autoFocus
          value={q}
          onValueChange={setQ}
          placeholder="Find anything, or type what to do"
          className="w-full border-b border-edge bg-sheet px-4 py-3 text-[15px] outline-none"
        />
        <Command.List className="max-h-[50vh] overflow-y-auto py-1">
          {words !== '' && (
            <Command.Empty className="px-4 py-3 text-ink-2">
              Nothing is called that. Try a key, the beginning of a hash, or other words.
            </Command.Empty>
          )}
          {deeds.map((deed) => (
            <Command.Item
              key={deed.name}
              value={deed.name}
              onSelect={() => {
                onClose()
                setQ('')
                deed.run()
              }}
              className={ROW}
            >
              <b>{deed.name}</b>
            </Command.Item>
          ))}
          {(data?.hits ?? []).map((hit) => (
            <Command.Item
              key={`${hit.ref.kind}${hit.ref.id}`}
              value={`${hit.ref.kind}:${hit.ref.id}`}
              onSelect={() => go(printTrail([{ kind: placeOf(hit.ref.kind), id: '' }, segmentOf(hit.ref)]))}
              className={ROW}
            >
              <span className="w-[120px] shrink-0 truncate font-mono text-[12px] text-ink-2">{hit.detail}</span>
              <span className="min-w-0 flex-1 truncate">
                {hit.found && hit.found.title.length > 0 ? <Marked pieces={hit.found.title} /> : hit.title}
                {hit.found?.excerpt && (
                  <span className="ml-2 text-[12px] text-ink-2">
                    <Marked pieces={hit.found.excerpt} />
                  </span>
                )}
              </span>
              {hit.stair && <Stair stair={hit.stair} />}
            </Command.Item>
          ))}
          {PLACES.filter((place) => words === '' || place.startsWith(words)).map((place) => (
            <Command.Item key={place} value={`place ${place}`} onSelect={() => go(`/${place}`)} className={ROW}>
              Go to {titleOf({ kind: place, id: '' })}
            </Command.Item>
          ))}
        </Command.List>
      </Command>
    </Dialog>
  )
}

function placeOf(kind: string): string {
  return { item: 'items', fault: 'faults', requirement: 'requirements', release: 'releases', build: 'builds' }[kind] ?? 'code'
}

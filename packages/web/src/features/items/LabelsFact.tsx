import { splitWords } from '#shared/lib/format'
import type { Item } from '@dystracer/core/items/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { TextInput } from '#shared/ui/fields'
import { Button, Fact, Label } from '#shared/ui/parts'
import type { SaveItem } from './use-save'

/** The labels of an item; changed as one line with commas. */
export function LabelsFact({ item, isLocked, save }: { item: Item; isLocked: boolean; save: SaveItem }) {
  const [draft, setDraft] = useState<string | null>(null)
  const colours = usePeople().me?.setup.labels ?? []
  return (
    <Fact label="Labels">
      {draft === null ? (
        <>
          {item.labels.map((label) => (
            <Label key={label} text={label} colour={colours.find((known) => known.label === label)?.colour} />
          ))}
          {item.labels.length === 0 && <span className="text-ink-3">none </span>}
          {!isLocked && (
            <Button look="line" aria-label="Change labels" onClick={() => setDraft(item.labels.join(', '))}>
              change
            </Button>
          )}
        </>
      ) : (
        <TextInput
          autoFocus
          aria-label="Labels, with commas"
          list="all-labels"
          value={draft}
          onChange={(event) => setDraft(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Escape') setDraft(null)
            if (event.key === 'Enter') event.currentTarget.blur()
          }}
          onBlur={() => {
            const labels = [...new Set(splitWords(draft))]
            setDraft(null)
            if (labels.join('\n') !== item.labels.join('\n')) void save({ labels })
          }}
        />
      )}
    </Fact>
  )
}

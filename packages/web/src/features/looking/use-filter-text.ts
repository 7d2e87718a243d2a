import { completeFilter, type KnownValues } from '@dystracer/core/filter/complete-filter'
import { type FilterVocabulary, ITEM_VOCABULARY } from '@dystracer/core/filter/filter'
import { parseFilterBy } from '@dystracer/core/filter/parse-filter'
import { useMemo, useRef, useState, type KeyboardEvent } from 'react'
import { usePeople } from '#features/people/index'

/**
 * A filter while it is typed: its text and caret, what completes it there, its mistake, and the keys of the field. Arrows choose a
 * completion, Tab and Enter take it; Escape closes the list, then puts the text back. A text with a mistake is kept, not used.
 */
export function useFilterText(filter: string, onFilter: (filter: string) => void, about?: { words: FilterVocabulary; known: KnownValues }) {
  const [draft, setDraft] = useState<{ text: string; caret: number } | null>(null)
  const [active, setActive] = useState(-1)
  const [isOpen, setIsOpen] = useState(false)
  const input = useRef<HTMLInputElement>(null)
  const ofItems = useKnownValues()
  const { words, known } = about ?? { words: ITEM_VOCABULARY as FilterVocabulary, known: ofItems }
  const text = draft?.text ?? filter
  const completions = completeFilter(text, draft?.caret ?? text.length, known, words)
  const options = isOpen && draft ? completions.options : []
  const parsed = parseFilterBy(words, text)
  const take = (index: number) => {
    const option = options[index]
    if (!option) return
    const isWhole = option.kind !== 'field'
    const taken = `${text.slice(0, completions.from)}${option.text}${isWhole ? ' ' : ''}`
    setDraft({ text: taken + text.slice(completions.to).trimStart(), caret: taken.length })
    setActive(-1)
    requestAnimationFrame(() => {
      input.current?.setSelectionRange(taken.length, taken.length)
      setDraft((now) => now && { ...now, caret: Math.min(taken.length, now.text.length) })
    })
  }
  const finish = () => {
    setIsOpen(false)
    setActive(-1)
    if (draft !== null && 'filter' in parsed) {
      onFilter(text.trim())
      setDraft(null)
    }
  }
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      if (options.length === 0) return
      event.preventDefault()
      // From the text, where nothing is chosen, the one way leads to the first and the other to the last.
      const from = active < 0 && event.key === 'ArrowUp' ? 0 : active
      setActive((from + (event.key === 'ArrowDown' ? 1 : -1) + options.length) % options.length)
    } else if (event.key === 'Tab' && options.length > 0 && draft !== null && text.slice(completions.from, completions.to) !== '') {
      event.preventDefault()
      take(Math.max(0, active))
    } else if (event.key === 'Enter') {
      event.preventDefault()
      if (active >= 0) take(active)
      else finish()
    } else if (event.key === 'Escape') {
      event.stopPropagation()
      if (options.length > 0) setIsOpen(false)
      else setDraft(null)
    }
  }
  return {
    input,
    text,
    isTyping: draft !== null,
    options,
    active,
    mistake: 'error' in parsed ? parsed.error : null,
    take,
    finish,
    onKeyDown,
    onType: (typed: string, caret: number | null) => {
      setDraft({ text: typed, caret: caret ?? typed.length })
      setIsOpen(true)
      setActive(-1)
    },
    // The text may be another one by now: a completion was taken by the same key.
    onCaret: (caret: number | null) =>
      setDraft((now) => (now === null || caret === null ? now : { ...now, caret: Math.min(caret, now.text.length) })),
  }
}

/** The values that the project knows, for completion. */
function useKnownValues(): KnownValues {
  const { me } = usePeople()
  return useMemo(() => {
    if (!me) return {}
    const personIds = me.people.map((person) => person.personId)
    return {
      type: me.setup.types.map((type) => type.type),
      owner: personIds,
      reporter: personIds,
      component: me.components,
      milestone: me.setup.milestones.map((milestone) => milestone.name),
      label: me.setup.labels.map((entry) => entry.label),
      sprint: me.sprints,
      release: me.releases,
      project: me.projects.map((project) => project.prefix),
      priority: ['urgent', 'high', 'normal', 'low'],
      ...Object.fromEntries(
        me.setup.ownFields.map((field) => [`own.${field.fieldId}`, field.kind === 'person' ? ['me', ...personIds] : field.choices]),
      ),
    }
  }, [me])
}

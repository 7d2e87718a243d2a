import { completeFilter, type KnownValues } from '@dystracer/core/filter/complete-filter'
import { filterChips } from '@dystracer/core/filter/filter-chips'
import { parseFilter } from '@dystracer/core/filter/parse-filter'
import { useId, useMemo, useRef, useState, type KeyboardEvent } from 'react'
import { usePeople } from '#features/people/index'
import { TextInput } from '#shared/ui/fields'

const ERROR_TEXT = {
  'unknown-field': 'is no field',
  'missing-value': 'lacks a value',
  'unclosed-bracket': 'opens a bracket that nothing closes',
  'unclosed-quote': 'opens a quote that nothing closes',
  unexpected: 'does not fit here',
  'wrong-value': 'is no value of this field',
} as const

/**
 * The filter as text, completed while it is typed and with the place of a mistake shown; below it its conditions, each of which a click
 * takes away.
 */
export function FilterBar({ filter, onFilter }: { filter: string; onFilter: (filter: string) => void }) {
  const [draft, setDraft] = useState<{ text: string; caret: number } | null>(null)
  const [active, setActive] = useState(-1)
  const [isOpen, setIsOpen] = useState(false)
  const input = useRef<HTMLInputElement>(null)
  const listId = useId()
  const known = useKnownValues()
  const text = draft?.text ?? filter
  const completions = completeFilter(text, draft?.caret ?? text.length, known)
  const options = isOpen && draft ? completions.options : []
  const parsed = parseFilter(text)
  const chips = useMemo(() => filterChips(filter), [filter])
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
      setActive((active + (event.key === 'ArrowDown' ? 1 : -1) + options.length) % options.length)
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
  return (
    <div className="relative px-3 py-1">
      <TextInput
        ref={input}
        role="combobox"
        aria-label="Filter"
        aria-expanded={options.length > 0}
        aria-controls={listId}
        aria-autocomplete="list"
        aria-activedescendant={active >= 0 ? `${listId}-${active}` : undefined}
        aria-invalid={'error' in parsed}
        autoComplete="off"
        spellCheck={false}
        placeholder='such as: open defect severity<=2 owner=me "relay"'
        value={text}
        className="border-0! px-0! py-1! font-mono text-[12px]"
        onChange={(event) => {
          setDraft({ text: event.target.value, caret: event.target.selectionStart ?? event.target.value.length })
          setIsOpen(true)
          setActive(-1)
        }}
        onSelect={(event) => {
          const caret = event.currentTarget.selectionStart
          // The text may be another one by now: a completion was taken by the same key.
          setDraft((now) => (now === null || caret === null ? now : { ...now, caret: Math.min(caret, now.text.length) }))
        }}
        onKeyDown={onKeyDown}
        onBlur={finish}
      />
      {options.length > 0 && (
        <ul
          id={listId}
          role="listbox"
          aria-label="Completions"
          className="absolute top-full left-3 z-20 m-0 max-h-[260px] min-w-[200px] list-none overflow-y-auto rounded-[3px] border border-edge bg-sheet p-0 shadow-2xl"
        >
          {options.map((option, index) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the text field takes the keys
            <li
              key={`${option.kind}${option.text}`}
              id={`${listId}-${index}`}
              role="option"
              aria-selected={index === active}
              tabIndex={-1}
              // Before the field loses the focus and the list with it.
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => take(index)}
              className={`flex cursor-pointer justify-between gap-6 px-2 py-0.5 font-mono text-[12px] ${index === active ? 'bg-mark' : 'hover:bg-paper'}`}
            >
              {option.text}
              <span className="text-ink-3">{option.kind}</span>
            </li>
          ))}
        </ul>
      )}
      {'error' in parsed && (
        <p role="alert" className="font-mono text-[12px]">
          {text.slice(0, parsed.error.from)}
          <mark className="bg-fault-soft text-fault underline decoration-wavy">
            {text.slice(parsed.error.from, parsed.error.to) || '…'}
          </mark>
          {text.slice(parsed.error.to)}
          <span className="block font-sans text-fault">
            “{parsed.error.word}” {ERROR_TEXT[parsed.error.code]}.
          </span>
        </p>
      )}
      {chips.length > 1 && draft === null && (
        <ul aria-label="Conditions" className="m-0 flex list-none flex-wrap gap-x-3 p-0 text-[12px]">
          {chips.map((chip) => (
            <li key={chip.text}>
              <button
                type="button"
                aria-label={`Without ${chip.text}`}
                onClick={() => onFilter(chip.without)}
                className="min-h-6 font-mono text-ink-2 hover:text-fault hover:line-through"
              >
                {chip.text} <span aria-hidden="true">×</span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
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
    }
  }, [me])
}

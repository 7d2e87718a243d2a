import { filterChips } from '@dystracer/core/filter/filter-chips'
import type { FilterError, FilterVocabulary } from '@dystracer/core/filter/filter'
import type { KnownValues } from '@dystracer/core/filter/complete-filter'
import { useId, useMemo } from 'react'
import { TextInput } from '#shared/ui/fields'
import { useFilterText } from './use-filter-text'

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
export function FilterBar({
  filter,
  onFilter,
  label = 'Filter',
  placeholder = 'such as: open defect severity<=2 owner=me "time-out"',
  about,
}: {
  filter: string
  onFilter: (filter: string) => void
  label?: string
  placeholder?: string
  /** What it is about, where that is not items: its vocabulary, and the values known of its fields. */
  about?: { words: FilterVocabulary; known: KnownValues }
}) {
  const typed = useFilterText(filter, onFilter, about)
  const { text, options, active, mistake } = typed
  const listId = useId()
  return (
    <div className="relative px-3 py-1">
      <TextInput
        ref={typed.input}
        role="combobox"
        aria-label={label}
        aria-expanded={options.length > 0}
        aria-controls={listId}
        aria-autocomplete="list"
        aria-activedescendant={active >= 0 ? `${listId}-${active}` : undefined}
        aria-invalid={mistake !== null}
        autoComplete="off"
        spellCheck={false}
        placeholder={placeholder}
        value={text}
        className="border-0! px-0! py-1! font-mono text-[12px]"
        onChange={(event) => typed.onType(event.target.value, event.target.selectionStart)}
        onSelect={(event) => typed.onCaret(event.currentTarget.selectionStart)}
        onKeyDown={typed.onKeyDown}
        onBlur={typed.finish}
      />
      {options.length > 0 && (
        <ul
          id={listId}
          role="listbox"
          aria-label="Completions"
          className="absolute top-full left-3 z-20 m-0 max-h-[260px] min-w-[200px] list-none overflow-y-auto rounded-[3px]
            border border-edge bg-sheet p-0 shadow-2xl"
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
              onClick={() => typed.take(index)}
              className={`flex cursor-pointer justify-between gap-6 px-2 py-0.5 font-mono text-[12px]
                ${index === active ? 'bg-mark' : 'hover:bg-paper'}`}
            >
              {option.text}
              <span className="text-ink-3">{option.kind}</span>
            </li>
          ))}
        </ul>
      )}
      {mistake && <Mistake text={text} mistake={mistake} />}
      {!typed.isTyping && <Conditions filter={filter} words={about?.words} onFilter={onFilter} />}
    </div>
  )
}

/** The text with the place of its mistake marked, and what is wrong there. */
function Mistake({ text, mistake }: { text: string; mistake: FilterError }) {
  return (
    <p role="alert" className="font-mono text-[12px]">
      {text.slice(0, mistake.from)}
      <mark className="bg-fault-soft text-fault underline decoration-wavy">{text.slice(mistake.from, mistake.to) || '…'}</mark>
      {text.slice(mistake.to)}
      <span className="block font-sans text-fault">
        “{mistake.word}” {ERROR_TEXT[mistake.code]}.
      </span>
    </p>
  )
}

/** The conditions of a filter, each of which a click takes away. */
function Conditions({
  filter,
  words,
  onFilter,
}: {
  filter: string
  words: FilterVocabulary | undefined
  onFilter: (filter: string) => void
}) {
  const chips = useMemo(() => filterChips(filter, words), [filter, words])
  if (chips.length < 2) return null
  return (
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
  )
}

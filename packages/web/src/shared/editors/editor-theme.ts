import { EditorView } from '@codemirror/view'

/** How every editor looks, in light and dark; each adds its letters. */
export const EDITOR_THEME = EditorView.theme({
  '&': { backgroundColor: 'var(--sheet)', color: 'var(--ink)', border: '1px solid var(--edge)', borderRadius: '3px' },
  '&.cm-focused': { outline: '2px solid var(--proof)', outlineOffset: '-2px' },
  '.cm-content': { padding: '5px 0', caretColor: 'var(--ink)' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '.cm-placeholder': { color: 'var(--ink-3)' },
  '.cm-gutters': { backgroundColor: 'var(--ground)', color: 'var(--ink-3)', border: 'none' },
  '.cm-tooltip': { backgroundColor: 'var(--sheet)', border: '1px solid var(--edge)', color: 'var(--ink)' },
  '.cm-tooltip-autocomplete ul li[aria-selected]': { backgroundColor: 'var(--mark)', color: 'var(--ink)' },
})

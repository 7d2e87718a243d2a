import { yaml } from '@codemirror/lang-yaml'
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language'
import { EditorView } from '@codemirror/view'
import { tags } from '@lezer/highlight'
import CodeMirror from '@uiw/react-codemirror'
import { useMemo } from 'react'
import type { YamlEditorProps } from './yaml-editor-props'

const THEME = EditorView.theme({
  '&': { backgroundColor: 'var(--sheet)', color: 'var(--ink)', fontSize: '12px', border: '1px solid var(--edge)', borderRadius: '3px' },
  '&.cm-focused': { outline: '2px solid var(--proof)', outlineOffset: '-2px' },
  '.cm-content': { fontFamily: 'var(--font-mono)', padding: '5px 0', caretColor: 'var(--ink)' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '.cm-gutters': { backgroundColor: 'var(--ground)', color: 'var(--ink-3)', border: 'none' },
})

/** Words that mean something stand out by weight, remarks step back; both read in light and dark. */
const LOOK = HighlightStyle.define([
  { tag: [tags.definition(tags.propertyName), tags.propertyName], fontWeight: 'bold' },
  { tag: tags.comment, color: 'var(--ink-2)' },
  { tag: [tags.string, tags.content], color: 'var(--proof)' },
])

/** CodeMirror for YAML, with the numbers of lines that problems are told by. */
export function YamlCode({ label, value, onChange }: YamlEditorProps) {
  const extensions = useMemo(
    () => [yaml(), syntaxHighlighting(LOOK), EditorView.contentAttributes.of({ 'aria-label': label }), THEME],
    [label],
  )
  return (
    <CodeMirror
      value={value}
      onChange={onChange}
      extensions={extensions}
      theme="none"
      minHeight="180px"
      maxHeight="320px"
      basicSetup={{ syntaxHighlighting: false, foldGutter: false, highlightActiveLine: false, highlightActiveLineGutter: false }}
    />
  )
}

import { EDITOR_THEME } from './editor-theme'
import { yaml } from '@codemirror/lang-yaml'
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language'
import { EditorView } from '@codemirror/view'
import { tags } from '@lezer/highlight'
import CodeMirror from '@uiw/react-codemirror'
import { useMemo } from 'react'
import type { YamlEditorProps } from './yaml-editor-props'

const LETTERS = EditorView.theme({
  '&': { fontSize: '12px' },
  '.cm-content': { fontFamily: 'var(--font-mono)' },
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
    () => [yaml(), syntaxHighlighting(LOOK), EditorView.contentAttributes.of({ 'aria-label': label }), EDITOR_THEME, LETTERS],
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

import { EDITOR_THEME } from './editor-theme'
import { autocompletion, type CompletionContext } from '@codemirror/autocomplete'
import { markdown, markdownLanguage } from '@codemirror/lang-markdown'
import { Prec } from '@codemirror/state'
import { EditorView, keymap } from '@codemirror/view'
import CodeMirror from '@uiw/react-codemirror'
import { useMemo, useRef } from 'react'
import type { MarkdownEditorProps } from './markdown-editor-props'

const LETTERS = EditorView.theme({
  '&': { fontSize: '13px' },
  '.cm-content': { fontFamily: 'var(--font-sans)' },
  '.cm-line': { padding: '0 8px' },
})

/** CodeMirror for Markdown: completes people and keys, takes pasted and dropped files, Ctrl+Enter sends. */
export function CodeEditor({
  label,
  value,
  onChange,
  completions,
  onFiles,
  onSubmit,
  minHeightPx = 90,
  placeholder = '',
}: MarkdownEditorProps) {
  // The extensions are made once; what they call is always the newest.
  const latest = useRef({ completions, onFiles, onSubmit })
  latest.current = { completions, onFiles, onSubmit }
  const extensions = useMemo(
    () => [
      markdown({ base: markdownLanguage }),
      EditorView.lineWrapping,
      EditorView.contentAttributes.of({ 'aria-label': label }),
      EDITOR_THEME,
      LETTERS,
      Prec.highest(
        keymap.of([
          {
            key: 'Mod-Enter',
            run: () => {
              latest.current.onSubmit?.()
              return latest.current.onSubmit !== undefined
            },
          },
        ]),
      ),
      autocompletion({ override: [(context) => complete(context, latest.current.completions)], icons: false }),
      EditorView.domEventHandlers({
        paste: (event) => takeFiles(event, event.clipboardData, latest.current.onFiles),
        drop: (event) => takeFiles(event, event.dataTransfer, latest.current.onFiles),
      }),
    ],
    [label],
  )
  return (
    <CodeMirror
      value={value}
      onChange={onChange}
      extensions={extensions}
      theme="none"
      placeholder={placeholder}
      minHeight={`${minHeightPx}px`}
      maxHeight="320px"
      basicSetup={{ lineNumbers: false, foldGutter: false, highlightActiveLine: false, autocompletion: false }}
    />
  )
}

function complete(context: CompletionContext, completions: MarkdownEditorProps['completions']) {
  const word = context.matchBefore(/@[\w-]*|[A-Z][A-Z0-9]*-\d*/)
  if (!word || (word.from === word.to && !context.explicit)) return null
  return {
    from: word.from,
    options: completions.map(({ text, detail }) => ({ label: text, detail })),
    validFor: /^(?:@[\w-]*|[A-Z][A-Z0-9]*-\d*)$/,
  }
}

function takeFiles(event: Event, data: DataTransfer | null, onFiles: MarkdownEditorProps['onFiles']): boolean {
  const files = [...(data?.files ?? [])]
  if (files.length === 0 || !onFiles) return false
  event.preventDefault()
  onFiles(files)
  return true
}

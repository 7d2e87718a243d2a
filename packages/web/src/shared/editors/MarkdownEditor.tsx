import type { MarkdownEditorProps } from './markdown-editor-props'
import { lazy, Suspense, useState } from 'react'
import { Markdown } from '#shared/ui/Markdown'
import { TextArea } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'

const CodeEditor = lazy(() => import('./CodeEditor').then((module) => ({ default: module.CodeEditor })))

/** A Markdown text with preview. The plain field stands there until the editor is loaded, and holds the same text. */
export function MarkdownEditor(props: MarkdownEditorProps) {
  const [isPreview, setIsPreview] = useState(false)
  const { label, value, onChange, placeholder, minHeightPx = 90, aside } = props
  return (
    <div>
      <div className="flex items-center gap-3 text-[12px] text-ink-2">
        <span>{label}</span>
        <Button look="line" className="my-0!" aria-pressed={isPreview} onClick={() => setIsPreview(!isPreview)}>
          {isPreview ? 'write' : 'preview'}
        </Button>
        {aside}
      </div>
      {isPreview ? (
        <div className="rounded-[3px] border border-edge px-2 py-1.5" style={{ minHeight: minHeightPx }}>
          {value.trim() ? <Markdown text={value} /> : <span className="text-ink-3">Nothing was written yet.</span>}
        </div>
      ) : (
        <Suspense
          fallback={
            <TextArea
              aria-label={label}
              rows={Math.round(minHeightPx / 20)}
              value={value}
              placeholder={placeholder}
              onChange={(event) => onChange(event.target.value)}
            />
          }
        >
          <CodeEditor {...props} minHeightPx={minHeightPx} />
        </Suspense>
      )}
    </div>
  )
}

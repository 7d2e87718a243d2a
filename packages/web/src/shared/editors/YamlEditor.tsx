import { lazy, Suspense } from 'react'
import { TextArea } from '#shared/ui/fields'
import type { YamlEditorProps } from './yaml-editor-props'

const YamlCode = lazy(() => import('./YamlCode').then((module) => ({ default: module.YamlCode })))

/** A text of YAML. The plain field stands there until the editor is loaded, and holds the same text. */
export function YamlEditor(props: YamlEditorProps) {
  const { label, value, onChange } = props
  return (
    <Suspense
      fallback={
        <TextArea
          aria-label={label}
          rows={10}
          className="font-mono text-[12px]"
          value={value}
          onChange={({ target }) => onChange(target.value)}
        />
      }
    >
      <YamlCode {...props} />
    </Suspense>
  )
}

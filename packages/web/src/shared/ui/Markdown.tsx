import { lazy, Suspense } from 'react'
import type { MarkdownProps } from './markdown-props'

const Rendered = lazy(() => import('./MarkdownRendered').then((module) => ({ default: module.MarkdownRendered })))

/** Markdown without raw HTML; the text itself stands there until the renderer is loaded. */
export function Markdown(props: MarkdownProps) {
  return (
    <div className="prose-text break-words">
      <Suspense fallback={<p className="whitespace-pre-wrap">{props.text}</p>}>
        <Rendered {...props} />
      </Suspense>
    </div>
  )
}

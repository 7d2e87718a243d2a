import { lazy, Suspense } from 'react'

const Rendered = lazy(() => import('./MarkdownRendered').then((module) => ({ default: module.MarkdownRendered })))

/** Markdown without raw HTML; the text itself stands there until the renderer is loaded. */
export function Markdown({ text }: { text: string }) {
  return (
    <div className="prose-text break-words">
      <Suspense fallback={<p className="whitespace-pre-wrap">{text}</p>}>
        <Rendered text={text} />
      </Suspense>
    </div>
  )
}

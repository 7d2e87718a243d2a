import ReactMarkdown, { defaultUrlTransform } from 'react-markdown'
import rehypeHighlight from 'rehype-highlight'
import rehypeSanitize from 'rehype-sanitize'
import remarkGfm from 'remark-gfm'
import { pictureOfMark } from '@dystracer/core/text/picture-mark'
import { apiAddress } from '#shared/lib/api'
import type { MarkdownProps } from './markdown-props'

/** An address with a scheme, or from the root: no path of the text's own. */
const IS_ADDRESS = /^(?:[a-z][a-z0-9+.-]*:|\/|#)/i

function pictureAddress(url: string, pictureAt: MarkdownProps['pictureAt']): string {
  const kept = pictureOfMark(url)
  if (kept) return apiAddress('readKeptPicture', { params: kept })
  return pictureAt && !IS_ADDRESS.test(url) ? pictureAt(url) : defaultUrlTransform(url)
}

export function MarkdownRendered({ text, pictureAt }: MarkdownProps) {
  return (
    <ReactMarkdown
      remarkPlugins={[remarkGfm]}
      rehypePlugins={[rehypeSanitize, [rehypeHighlight, { detect: false }]]}
      urlTransform={(url, name) => (name === 'src' ? pictureAddress(url, pictureAt) : defaultUrlTransform(url))}
    >
      {text}
    </ReactMarkdown>
  )
}

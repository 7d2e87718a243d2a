import ReactMarkdown, { defaultUrlTransform } from 'react-markdown'
import rehypeHighlight from 'rehype-highlight'
import rehypeSanitize from 'rehype-sanitize'
import remarkGfm from 'remark-gfm'
import type { MarkdownProps } from './markdown-props'

/** An address with a scheme, or from the root: no path of the text's own. */
const IS_ADDRESS = /^(?:[a-z][a-z0-9+.-]*:|\/|#)/i

export function MarkdownRendered({ text, pictureAt }: MarkdownProps) {
  return (
    <ReactMarkdown
      remarkPlugins={[remarkGfm]}
      rehypePlugins={[rehypeSanitize, [rehypeHighlight, { detect: false }]]}
      urlTransform={(url, name) => (pictureAt && name === 'src' && !IS_ADDRESS.test(url) ? pictureAt(url) : defaultUrlTransform(url))}
    >
      {text}
    </ReactMarkdown>
  )
}

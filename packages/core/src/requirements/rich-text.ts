import type { Element as HtmlElement, ElementContent, Root } from 'hast'
import { toMdast } from 'hast-util-to-mdast'
import { fromMarkdown } from 'mdast-util-from-markdown'
import { gfmFromMarkdown, gfmToMarkdown } from 'mdast-util-gfm'
import { toHast } from 'mdast-util-to-hast'
import { toMarkdown } from 'mdast-util-to-markdown'
import { gfm } from 'micromark-extension-gfm'
import { element, localName, printXml, type XmlElement } from '#text/xml-tree'

const XHTML = 'http://www.w3.org/1999/xhtml'
/** Where a picture's place stands, by element. */
const SOURCE_OF: Readonly<Record<string, string>> = { object: 'data', img: 'src' }

/** What could be markup, or look like it: everything else is the same as Markdown and as plain paragraphs, which most texts are. */
const PERHAPS_MARKUP = /[\\`*_[\]<>#|~&:@]|www\.|^[ \t]*(?:\d+[.)]|[-+=])|^(?:\t| {4})| {2,}\n/m
const PLAIN_ELEMENTS = new Set(['div', 'p', 'span'])

/** The package looks through finished words for addresses once more, and so makes links of some whose signs were escaped. */
const WITHOUT_SECOND_LOOK = gfmFromMarkdown().map(({ transforms: _, ...extension }) => extension)

/**
 * Marked-up text of another tool as Markdown: paragraphs, lists, tables, emphasis, links and pictures stay, what has no form in Markdown
 * gives its words. Scripts and styles give nothing.
 */
export function xhtmlToMarkdown(content: XmlElement): string {
  const plain = plainParagraphs(content)
  if (plain !== null) return plain
  const tree: Root = { type: 'root', children: content.children.map(toHtml) }
  return toMarkdown(toMdast(tree), { extensions: [gfmToMarkdown()], bullet: '-', emphasis: '_', rule: '-' }).trim()
}

/** Markdown as marked-up text, an XHTML `div`; raw markup in it stays as the words that it is. */
export function markdownToXhtml(markdown: string): XmlElement {
  if (!PERHAPS_MARKUP.test(markdown)) {
    const paragraphs = markdown.split(/\n\s*\n/).map((paragraph) => paragraph.trim())
    const filled = paragraphs.filter((paragraph) => paragraph !== '').map((paragraph) => element('p', {}, [paragraph]))
    return element('div', { xmlns: XHTML }, filled)
  }
  const tree = toHast(fromMarkdown(markdown, { extensions: [gfm()], mdastExtensions: [WITHOUT_SECOND_LOOK] }), {
    // Raw markup has no place in XHTML that others read: it is told as text.
    handlers: { html: (_state, node: { value: string }) => ({ type: 'text', value: node.value }) },
  })
  return element('div', { xmlns: XHTML }, tree.type === 'root' ? tree.children.flatMap(fromHtml) : [])
}

/** The paragraphs of a text without markup, the fast way; null where there is more than words. */
function plainParagraphs(content: XmlElement): string | null {
  const paragraphs: string[] = ['']
  const walk = (node: XmlElement | string): boolean => {
    if (typeof node === 'string') {
      paragraphs[paragraphs.length - 1] += node
      return true
    }
    const name = localName(node).toLowerCase()
    if (!PLAIN_ELEMENTS.has(name)) return false
    if (name !== 'span') paragraphs.push('')
    const isPlain = node.children.every(walk)
    if (name !== 'span') paragraphs.push('')
    return isPlain
  }
  if (!content.children.every(walk)) return null
  const text = paragraphs
    .map((paragraph) => paragraph.replace(/[ \t\n]+/g, ' ').trim())
    .filter((paragraph) => paragraph !== '')
    .join('\n\n')
  return PERHAPS_MARKUP.test(text) ? null : text
}

/** Whether two texts are drawn alike, whatever blanks and marks they are written with. */
export function isSameMarkdown(one: string, other: string): boolean {
  const drawn = (markdown: string) => printXml(markdownToXhtml(xhtmlToMarkdown(markdownToXhtml(markdown))))
  return one === other || (PERHAPS_MARKUP.test(one) && PERHAPS_MARKUP.test(other) && drawn(one) === drawn(other))
}

function toHtml(node: XmlElement | string): ElementContent {
  if (typeof node === 'string') return { type: 'text', value: node }
  const name = localName(node).toLowerCase()
  const source = SOURCE_OF[name]
  if (source !== undefined && node.attributes[source] !== undefined) {
    const said = node.children.map((child) => (typeof child === 'string' ? child : '')).join('')
    return picture({ src: node.attributes[source], alt: node.attributes.alt ?? said.trim() })
  }
  return { type: 'element', tagName: name, properties: { ...node.attributes }, children: node.children.map(toHtml) }
}

function picture({ src, alt }: { src: string; alt: string }): HtmlElement {
  return { type: 'element', tagName: 'img', properties: { src, alt }, children: [] }
}

function fromHtml(node: Root['children'][number]): (XmlElement | string)[] {
  if (node.type === 'text') return [node.value]
  if (node.type !== 'element') return []
  const { src, alt } = node.properties
  // Pictures of requirements stand as objects, as the standard for exchanging them asks.
  if (node.tagName === 'img')
    return [element('object', { data: String(src ?? ''), type: mediaTypeOf(String(src ?? '')) }, [String(alt ?? '')])]
  const attributes = Object.entries(node.properties).flatMap(([key, value]) =>
    value === null || value === undefined || value === false
      ? []
      : [[key === 'className' ? 'class' : key.toLowerCase(), Array.isArray(value) ? value.join(' ') : String(value)] as const],
  )
  return [element(node.tagName, Object.fromEntries(attributes), node.children.flatMap(fromHtml))]
}

function mediaTypeOf(path: string): string {
  const ending = /\.(\w+)$/.exec(path)?.[1]?.toLowerCase() ?? ''
  return (
    { png: 'image/png', jpg: 'image/jpeg', jpeg: 'image/jpeg', gif: 'image/gif', svg: 'image/svg+xml' }[ending] ??
    'application/octet-stream'
  )
}

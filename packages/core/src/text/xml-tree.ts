import { walkXml } from './walk-xml.js'

/** An element as it stands in a document: its name with its prefix, and what it holds in order. */
export interface XmlElement {
  name: string
  attributes: Record<string, string>
  children: (XmlElement | string)[]
  /** Where its tag ends, counted from 1; 0 for one that was made. */
  line: number
}

/**
 * Reads a document as a tree: names and attributes as they are written, character data in place. Refuses what `walkXml` refuses. Memory is
 * a few times that of the text, so the caller bounds its size. Throws XmlError with the line.
 */
export function readXml(xml: string): XmlElement {
  const top: XmlElement = { name: '', attributes: {}, children: [], line: 0 }
  const open = [top]
  walkXml(xml, {
    open(name, attributes, line) {
      const element: XmlElement = { name, attributes: { ...attributes }, children: [], line }
      open.at(-1)?.children.push(element)
      open.push(element)
    },
    text(piece) {
      const parent = open.at(-1)
      if (!parent || parent === top) return
      const last = parent.children.at(-1)
      if (typeof last === 'string') parent.children[parent.children.length - 1] = last + piece
      else parent.children.push(piece)
    },
    close() {
      open.pop()
    },
  })
  return elementsOf(top)[0] as XmlElement
}

/** Makes an element. */
export function element(name: string, attributes: Record<string, string> = {}, children: (XmlElement | string)[] = []): XmlElement {
  return { name, attributes, children, line: 0 }
}

/** The name without its prefix. */
export function localName({ name }: XmlElement): string {
  return name.slice(name.indexOf(':') + 1)
}

/** The elements that stand directly in one, of a local name if one is given. */
export function elementsOf(parent: XmlElement, name?: string): XmlElement[] {
  return parent.children.filter(
    (child): child is XmlElement => typeof child !== 'string' && (name === undefined || localName(child) === name),
  )
}

/** The first element directly in one that has a local name; undefined where there is none, or no parent. */
export function elementOf(parent: XmlElement | undefined, name: string): XmlElement | undefined {
  return parent && elementsOf(parent, name)[0]
}

/** All character data below an element, in order. */
export function textOf(parent: XmlElement | undefined): string {
  return parent ? parent.children.map((child) => (typeof child === 'string' ? child : textOf(child))).join('') : ''
}

/** An element as text; reading it again gives the same tree. */
export function printXml({ name, attributes, children }: XmlElement): string {
  const inside = children.map((child) => (typeof child === 'string' ? escapeText(child) : printXml(child))).join('')
  const head = Object.entries(attributes)
    .map(([key, value]) => ` ${key}="${escapeAttribute(value)}"`)
    .join('')
  return inside === '' ? `<${name}${head}/>` : `<${name}${head}>${inside}</${name}>`
}

function escapeText(text: string): string {
  return text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('\r', '&#13;')
}

/** Line breaks in attributes would be read as blanks. */
function escapeAttribute(text: string): string {
  return escapeText(text).replaceAll('"', '&quot;').replaceAll('\n', '&#10;').replaceAll('\t', '&#9;')
}

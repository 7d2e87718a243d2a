import { SaxesParser } from 'saxes'
import { withoutControls } from './decode-text.js'

/** An element's attributes; each is a text. */
export type Attributes = Readonly<Record<string, string>>
/** What a reader does at each turn of the walk through a document. */
export interface XmlVisitor {
  open(name: string, attributes: Attributes, line: number): void
  /** Texts and character data, in pieces. */
  text?(text: string): void
  close(name: string): void
}

/** Why a document is not taken, with the line. */
export class XmlError extends Error {
  constructor(
    message: string,
    readonly line: number,
  ) {
    super(`${message} (line ${line})`)
    this.name = 'XmlError'
  }
}

/** Elements nest at most so deep: a thousand suites inside each other are an attack, not a report. */
const DEPTH_MAX = 200
/** References to characters that XML does not allow: tools write the colours of a terminal this way. */
const WRONG_REFERENCES = /&#(?:0*(?:[0-8]|1[124-9]|2\d|3[01])|x0*(?:[0-8bcefBCEF]|1[0-9a-fA-F]));/g
const ESCAPE = /^&#(?:0*27|x0*1b);$/i

/**
 * Walks through a document in one pass without making a tree of it, so that memory does not grow with it. Control characters are left out.
 * Document types may be named but not written out (entities are defined there), and nothing is ever fetched. Gives notes of what was left
 * out. Throws XmlError with the line.
 */
export function walkXml(xml: string, visitor: XmlVisitor): string[] {
  // A reference to such a character becomes that character first, so that the colours of a terminal go as a whole.
  const { text: sound, isCleaned } = withoutControls(xml.replace(WRONG_REFERENCES, (said) => (ESCAPE.test(said) ? '\u001b' : '\u0001')))
  const parser = new SaxesParser({ position: true })
  let depth = 0
  const refuse = (why: string): never => {
    throw new XmlError(why, parser.line)
  }
  parser.on('error', (error) => refuse(`not well-formed XML: ${error.message.replace(/^\d+:\d+:\s*/, '').replace(/\.$/, '')}`))
  parser.on('doctype', (type) => {
    if (type.includes('[')) refuse('a document type with definitions of its own is not taken')
  })
  parser.on('opentag', ({ name, attributes }) => {
    if (++depth > DEPTH_MAX) refuse(`elements nest deeper than ${DEPTH_MAX}`)
    visitor.open(name, attributes as Attributes, parser.line)
  })
  parser.on('closetag', ({ name }) => {
    depth--
    visitor.close(name)
  })
  parser.on('text', (piece) => visitor.text?.(piece))
  parser.on('cdata', (piece) => visitor.text?.(piece))
  parser.write(sound).close()
  return isCleaned ? ['Control characters in it were left out.'] : []
}

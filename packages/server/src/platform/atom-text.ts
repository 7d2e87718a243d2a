import { escapeXml } from './escape-xml.js'
const HTML_TEXT = /<(title|subtitle|summary)(?: type="html")?><!\[CDATA\[([\s\S]*?)\]\]><\/\1>/g

/**
 * Makes plain text of the titles and summaries of an Atom feed (RFC 4287, 3.1.1.1). The feed writer calls every text HTML, so that a title
 * with markup would be drawn as markup by whoever reads the feed.
 */
export function withPlainTexts(atom: string): string {
  return atom.replace(HTML_TEXT, (_whole, name: string, cdata: string) => {
    // How a CDATA section holds the signs that end it.
    const text = cdata.replaceAll(']]]]><![CDATA[>', ']]>')
    return `<${name} type="text">${escapeXml(text)}</${name}>`
  })
}

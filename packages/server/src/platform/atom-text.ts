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

/** Text for XML 1.0: what marks is written as entities, what may not stand there is left out. */
function escapeXml(text: string): string {
  return text
    .replace(
      /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g,
      '',
    )
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
}

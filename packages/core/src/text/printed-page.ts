import { element, printXml, type XmlElement } from './xml-tree.js'

/** A page of HTML that stands by itself: it prints, and needs nothing from anywhere. Words in it are words, whatever they look like. */
export function printedPage({ title, style, body }: { title: string; style: string; body: XmlElement[] }): string {
  const page = element('html', { xmlns: 'http://www.w3.org/1999/xhtml', lang: 'en' }, [
    element('head', {}, [element('meta', { charset: 'utf-8' }), element('title', {}, [title]), element('style', {}, [style])]),
    element('body', {}, [element('h1', {}, [title]), ...body]),
  ])
  return `<!DOCTYPE html>\n${printXml(page)}\n`
}

/** How printed pages of records look: they are read on paper, years later. */
export const RECORD_STYLE =
  `body{font:10.5pt/1.45 Georgia,serif;max-width:60em;margin:2em ` +
  `auto;color:#1e2421}table{border-collapse:collapse;width:100%;margin:0 0 1.5em}
th,td{border-bottom:1px solid #ded8ca;padding:3px 8px 3px ` +
  `0;text-align:left;vertical-align:top}code{font-size:9pt}h2{break-after:avoid}tr{break-inside:avoid}a{color:#1e6e62}
td.n,th.n{text-align:right;font-variant-numeric:tabular-nums}.bad{color:#a93e19}.look{color:#8a630b}@page{margin:18mm}`

/** A heading with a table below it, or the word that there is nothing; `id` is where a link leads to it. */
export function printedTable(
  title: string,
  heads: readonly string[],
  rows: readonly (readonly (string | XmlElement)[])[],
  { id, none = 'None.' }: { id?: string; none?: string } = {},
): XmlElement[] {
  const line = (name: 'th' | 'td', cells: readonly (string | XmlElement)[]) =>
    element(
      'tr',
      {},
      cells.map((cell) => element(name, {}, [cell])),
    )
  return [
    element('h2', id === undefined ? {} : { id }, [title]),
    rows.length === 0
      ? element('p', {}, [none])
      : element('table', {}, [
          element('thead', {}, [line('th', heads)]),
          element(
            'tbody',
            {},
            rows.map((cells) => line('td', cells)),
          ),
        ]),
  ]
}

import { printedPage } from '#text/printed-page'
import { element, type XmlElement } from '#text/xml-tree'
import type { Attributes } from './attributes.js'
import { chapterNumbers } from './document-order.js'
import { markdownToXhtml } from './rich-text.js'

/** A requirement as a page of its document shows it. */
export interface DocumentRequirement {
  key: string
  title: string
  text: string
  parent: string | null
  isHeading: boolean
  isRetired: boolean
  revision: number
  attributes: Attributes
}

const STYLE =
  `body{font:11pt/1.5 "Source Serif 4",Georgia,serif;max-width:46em;margin:2em auto;color:#1e2421}` +
  `h1,h2,h3,h4,h5,h6{line-height:1.25;break-after:avoid}
section{break-inside:avoid;margin:0 0 1em}.key{font:9pt monospace;color:#59615b}dl{font-size:9.5pt;margin:.3em 0}` +
  `dt{float:left;clear:left;width:9em;color:#59615b}dd{margin:0 0 0 9.5em}
table{border-collapse:collapse}td,th{border:1px solid #ded8ca;padding:.2em .5em}.retired{text-decoration:line-through;` +
  `color:#666c64}@page{margin:20mm}`

/** The requirements of a project as a page that prints well and that word processors open; rows come in document order. */
export function requirementsAsHtml(title: string, rows: readonly DocumentRequirement[]): string {
  const numbers = chapterNumbers(rows)
  const depth = depths(rows)
  const sections = rows.map((row) => {
    const level = Math.min(6, (depth.get(row.key) ?? 0) + 2)
    const key = element('span', { class: 'key' }, [`${row.key}${row.revision > 1 ? `, revision ${row.revision}` : ''}`])
    if (row.isHeading) return element(`h${level}`, { id: row.key }, [`${numbers.get(row.key) ?? ''} ${row.title} `, key])
    return element('section', { id: row.key, ...(row.isRetired && { class: 'retired' }) }, [
      element('p', {}, [key, ' ', element('b', {}, [row.title])]),
      ...markdownToXhtml(row.text).children,
      ...facts(row.attributes),
    ])
  })
  return printedPage({ title, style: STYLE, body: sections })
}

function facts(attributes: Attributes): XmlElement[] {
  const lines = Object.entries(attributes)
  if (lines.length === 0) return []
  return [
    element(
      'dl',
      {},
      lines.flatMap(([name, value]) => [element('dt', {}, [name]), element('dd', {}, [Array.isArray(value) ? value.join(', ') : value])]),
    ),
  ]
}

/** The requirements of a project as Markdown; rows come in document order. */
export function requirementsAsMarkdown(title: string, rows: readonly DocumentRequirement[]): string {
  const numbers = chapterNumbers(rows)
  const depth = depths(rows)
  const parts = rows.map((row) => {
    const marks = '#'.repeat(Math.min(6, (depth.get(row.key) ?? 0) + 2))
    if (row.isHeading) return `${marks} ${numbers.get(row.key) ?? ''} ${oneLine(row.title)} (${row.key})`
    const lines = Object.entries(row.attributes).map(([name, value]) => `- ${oneLine(name)}: ${oneLine(String(value))}`)
    return [`**${row.key}** ${oneLine(row.title)}${row.isRetired ? ' (retired)' : ''}`, row.text, lines.join('\n')]
      .filter((part) => part !== '')
      .join('\n\n')
  })
  return `# ${oneLine(title)}\n\n${parts.join('\n\n')}\n`
}

function oneLine(text: string): string {
  return text.replace(/\s+/g, ' ').trim()
}

function depths(rows: readonly DocumentRequirement[]): Map<string, number> {
  const depth = new Map<string, number>()
  for (const { key, parent } of rows) depth.set(key, parent === null ? 0 : (depth.get(parent) ?? -1) + 1)
  return depth
}

import { XMLParser, XMLValidator } from 'fast-xml-parser'

export interface JunitCase {
  suite: string
  name: string
  outcome: 'passed' | 'failed' | 'skipped'
  durationMs: number
  message: string
  properties: Record<string, string>
}
export class ReportFormatError extends Error {}
const CASES_MAX = 100_000
const DEPTH_MAX = 50
type Element = Record<string, unknown>

/**
 * The test cases of a JUnit XML report, suites nested to any depth. Document types (and with them entities) are refused. Throws
 * ReportFormatError.
 */
export function readJunit(xml: string): JunitCase[] {
  if (/<!DOCTYPE|<!ENTITY/i.test(xml)) throw new ReportFormatError('a document type is not taken')
  const valid = XMLValidator.validate(xml)
  if (valid !== true) throw new ReportFormatError(`not well-formed XML: ${valid.err.msg} (line ${valid.err.line})`)
  const root = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '@',
    isArray: (name) => name === 'testsuite' || name === 'testcase' || name === 'property',
    parseAttributeValue: false,
    parseTagValue: false,
  }).parse(xml) as Element
  if (root.testsuites === undefined && root.testsuite === undefined) throw new ReportFormatError('no <testsuites> or <testsuite> in it')
  const cases: JunitCase[] = []
  readSuite((root.testsuites === '' ? {} : (root.testsuites ?? root)) as Element, '', cases, 0)
  return cases
}

function readSuite(element: Element, path: string, into: JunitCase[], depth: number): void {
  if (depth > DEPTH_MAX) throw new ReportFormatError('suites nest too deep')
  for (const suite of list(element.testsuite))
    readSuite(suite, [path, attribute(suite, 'name')].filter(Boolean).join(' › '), into, depth + 1)
  for (const test of list(element.testcase)) {
    if (into.length >= CASES_MAX) throw new ReportFormatError(`more than ${CASES_MAX} test cases`)
    const failure = test.failure ?? test.error
    into.push({
      suite: path || attribute(test, 'classname') || 'tests',
      name: attribute(test, 'name'),
      outcome: failure !== undefined ? 'failed' : test.skipped !== undefined ? 'skipped' : 'passed',
      durationMs: Math.round(Number(attribute(test, 'time') || 0) * 1000) || 0,
      message: failure === undefined ? '' : textOf(failure).slice(0, 4000),
      properties: Object.fromEntries(
        list((test.properties as Element | undefined)?.property).map((property) => [
          attribute(property, 'name'),
          attribute(property, 'value') || textOf(property),
        ]),
      ),
    })
  }
}

function list(value: unknown): Element[] {
  return Array.isArray(value) ? value.filter((entry): entry is Element => typeof entry === 'object' && entry !== null) : []
}

function attribute(element: Element, name: string): string {
  const value = element[`@${name}`]
  return typeof value === 'string' ? value.slice(0, 500) : ''
}

function textOf(value: unknown): string {
  if (typeof value === 'string') return value
  if (Array.isArray(value)) return textOf(value[0])
  const element = value as Element
  return [attribute(element, 'message'), typeof element['#text'] === 'string' ? element['#text'] : ''].filter(Boolean).join('\n')
}

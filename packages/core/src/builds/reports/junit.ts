import { joinSuite, MESSAGE_MAX, NAME_MAX, requireRoomForCases, ReportFormatError, type TestCase } from './report.js'
import { settleRepeats } from './repeats.js'
import { walkXml, type Attributes } from './xml.js'

interface Suite {
  name: string
  file: string | undefined
  host: string | undefined
  /** How many cases the file says that the suite has; NaN where it does not say. */
  told: number
  read: number
  /** Cases and suites right below it: some count these. */
  children: number
}
interface OpenCase {
  attributes: Attributes
  failures: string[]
  rerun: string[]
  skipped: string | null
  /** What it printed, as far as it is kept: the words of a case that failed without any. */
  output: string
  /** Whether it is skipped as something that is known to fail. */
  isExpected: boolean
  properties: Record<string, string>
}

/** Statuses by which some producers say that a case did not run; they write no `<skipped>`. */
const NOT_RUN = new Set(['disabled', 'notrun', 'skipped', 'suppressed', 'pending', 'ignored', 'todo'])
const FAILED = new Set(['fail', 'failed', 'error', 'errored'])
const FAILURES = new Set(['failure', 'error'])
/** An attempt that failed before another one passed. */
const FAILED_BEFORE = new Set(['flakyFailure', 'flakyError'])
/** Types of skipping that mean: it ran, and its failing is known. */
const EXPECTED = /^(?:todo|pytest\.xfail)$/i
const PRINTED = new Set(['system-out', 'system-err'])
const CAPTURED = new Set([...FAILURES, ...FAILED_BEFORE, ...PRINTED, 'skipped'])

/**
 * The cases of a JUnit XML report, suites nested to any sensible depth. Who wrote it differs in much: where a class stands, how a case
 * that did not run is marked, how attempts are told; docs/reference/formats.md says how each is read. Throws ReportFormatError.
 * One pass; memory grows with the cases only.
 */
export function readJunit(xml: string): { cases: TestCase[]; notes: string[] } {
  const suites: Suite[] = []
  const cases: TestCase[] = []
  const notes: string[] = []
  let open: OpenCase | null = null
  let captured: { element: string; attributes: Attributes; text: string } | null = null
  let property: { name: string; text: string } | null = null
  let isReport = false
  const placeNow = () => suites.map(({ name }) => name)

  const xmlNotes = walkXml(xml, {
    open(element, attributes) {
      if (element === 'testsuites' || element === 'testsuite') {
        isReport = true
        // A document of one suite has no outer element; the outer one's own name says nothing of the tests.
        if (element !== 'testsuite') return
        countChild()
        const around = suites.at(-1)
        const [file, host] = [attributes.file ?? attributes.filepath ?? around?.file, attributes.hostname ?? around?.host]
        suites.push({ name: attributes.name ?? '', file, host, told: Number(attributes.tests ?? Number.NaN), read: 0, children: 0 })
      } else if (element === 'testcase') {
        countChild()
        open = { attributes, failures: [], rerun: [], skipped: null, output: '', isExpected: false, properties: {} }
      } else if (element === 'property' && open) {
        property = { name: attributes.name ?? '', text: '' }
        if (attributes.value !== undefined) open.properties[property.name.slice(0, NAME_MAX)] = attributes.value.slice(0, NAME_MAX)
      } else if (CAPTURED.has(element) && captured === null) captured = { element, attributes, text: '' }
    },
    text(piece) {
      if (captured && captured.text.length < MESSAGE_MAX) captured.text += piece
      else if (property && property.text.length < NAME_MAX) property.text += piece
    },
    close(element) {
      if (captured?.element === element) {
        settleCaptured(captured)
        captured = null
      } else if (element === 'property' && property) {
        const text = property.text.trim()
        if (open && text !== '' && open.properties[property.name] === undefined) open.properties[property.name] = text.slice(0, NAME_MAX)
        property = null
      } else if (element === 'testcase' && open) {
        requireRoomForCases(cases.length + 1)
        cases.push({ ...toCase(open, placeNow()), ...whereOf(open.attributes, suites.at(-1), cases.length) })
        for (const suite of suites) suite.read++
        open = null
      } else if (element === 'testsuite') noteTotal(suites.pop())
    },
  })
  if (!isReport) throw new ReportFormatError('no <testsuites> or <testsuite> in it')
  const unnamed = cases.filter(({ name }) => name === UNNAMED).length
  if (unnamed > 0) notes.push(`${unnamed} of its cases have no name.`)
  return { cases: settleRepeats(cases), notes: [...xmlNotes, ...notes] }

  function countChild(): void {
    const around = suites.at(-1)
    if (around) around.children++
  }

  function settleCaptured({ element, attributes, text }: NonNullable<typeof captured>): void {
    const words = wordsOf(attributes, text)
    if (PRINTED.has(element)) {
      if (open) open.output = [open.output, words].filter(Boolean).join('\n').slice(0, MESSAGE_MAX)
    } else if (open === null) {
      // What failed beside the cases (setting up, loading a file) is a case of its own, or it would be lost.
      if (FAILURES.has(element))
        cases.push({
          suite: joinSuite(placeNow()),
          name: '(beside the tests)',
          outcome: 'failed',
          durationMs: 0,
          message: words,
          properties: {},
        })
    } else if (FAILURES.has(element)) open.failures.push(words)
    else if (FAILED_BEFORE.has(element)) open.rerun.push(words)
    else {
      open.skipped = words
      open.isExpected ||= EXPECTED.test(attributes.type ?? '')
    }
  }

  function noteTotal(suite: Suite | undefined): void {
    if (!suite || Number.isNaN(suite.told) || suite.told === suite.read || suite.told === suite.children || notes.length >= NOTES_MAX)
      return
    notes.push(`The suite “${suite.name.slice(0, 100)}” says that it has ${suite.told} cases; ${suite.read} are in the file.`)
  }
}

const NOTES_MAX = 20
const HOST_MAX = 100
const UNNAMED = '(without a name)'

function toCase(open: OpenCase, place: readonly string[]): TestCase {
  const { attributes, failures, rerun, skipped, output, isExpected, properties } = open
  const name = nameOf(attributes)
  const states = [attributes.status, attributes.result].map((state) => (state ?? '').toLowerCase())
  // What is marked as still to be done, or as known to fail, fails without breaking a build.
  const hasFailed = (!isExpected && failures.length > 0) || states.some((state) => FAILED.has(state))
  const isSkipped = !hasFailed && (skipped !== null || states.some((state) => NOT_RUN.has(state)))
  const messages = hasFailed ? failures : rerun.length > 0 ? rerun : skipped ? [skipped] : []
  return {
    suite: suiteOf(attributes, name, place),
    name,
    outcome: hasFailed ? 'failed' : isSkipped ? 'skipped' : rerun.length > 0 ? 'flaky' : 'passed',
    durationMs: secondsOf(attributes.time) * 1000,
    message: (messages.filter(Boolean).join('\n\n') || (hasFailed ? output : '')).slice(0, MESSAGE_MAX),
    properties,
  }
}

/** Where a case stands and ran, as far as it or its suite says. */
function whereOf({ file }: Attributes, suite: Suite | undefined, position: number): Pick<TestCase, 'file' | 'host' | 'position'> {
  const [place, host] = [file ?? suite?.file, suite?.host]
  return { position, ...(place && { file: place.slice(0, NAME_MAX) }), ...(host && { host: host.slice(0, HOST_MAX) }) }
}

/** The name of a case. Node's own runner, which calls every class `test`, escapes quotation marks twice. */
function nameOf({ name = '', classname }: Attributes): string {
  const plain = classname === 'test' ? name.replaceAll('&quot;', '"').replaceAll('&apos;', "'") : name
  return plain.slice(0, NAME_MAX).trim() || UNNAMED
}

/**
 * The class belongs to what a case is: two classes of one suite may have a test of one name. It is left out where it only says again what
 * suite or name say, and where it is a producer's constant (`test`).
 */
function suiteOf(attributes: Attributes, name: string, place: readonly string[]): string {
  const className = (attributes.classname ?? '').trim()
  const says =
    className !== '' &&
    className !== 'test' &&
    !name.includes(className) &&
    !className.includes(name) &&
    !place.some((suite) => suite.includes(className))
  return joinSuite([...place, ...(says ? [className] : [])]) || (className === 'test' ? '' : className.slice(0, NAME_MAX)) || 'tests'
}

/** Seconds as written; some write `1,234.5`. Nothing for what is no number. */
function secondsOf(time: string | undefined): number {
  const seconds = Number((time ?? '').replaceAll(',', ''))
  return Number.isFinite(seconds) && seconds > 0 ? Math.round(seconds * 1000) / 1000 : 0
}

function wordsOf(attributes: Attributes, text: string): string {
  const said = attributes.message ?? ''
  const body = text.trim()
  return [body.startsWith(said) ? '' : said, body].filter(Boolean).join('\n').slice(0, MESSAGE_MAX)
}

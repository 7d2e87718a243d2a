// Feeds broken and hostile files to each reader of an open format, so long for each as asked; what producers wrote is what is spoiled. A
// reader may read or refuse in words; anything else, or more processor time than its length allows three times in a row, ends the run.
// usage: node scripts/fuzz-readers.mjs [--minutes 10] [--seed 1] [--reader junit,tap …]; needs a build. Exits 1 at the first fault; the
// input that caused it is kept in the temporary folder.
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { readReport } from '../packages/core/dist/builds/reports/read-report.js'
import { guessReportFormat } from '../packages/core/dist/builds/report-format.js'
import { cutLines, LINE_CHARS_MAX } from '../packages/core/dist/build-logs/log-lines.js'
import { readNotableLine } from '../packages/core/dist/build-logs/notable-line.js'
import { planOf } from '../packages/core/dist/build-machines/build-plan.js'
import { readDescription } from '../packages/core/dist/build-machines/description.js'
import { parseSteps } from '../packages/core/dist/cases/steps-text.js'
import { parseFilter } from '../packages/core/dist/filter/parse-filter.js'
import { readHookMessage, zHookReading } from '../packages/core/dist/incoming/hook-reading.js'
import { readPieces } from '../packages/core/dist/reviews/follow-line.js'
import { parseGates } from '../packages/core/dist/reviews/gate-rules.js'
import { parseOwners } from '../packages/core/dist/reviews/owners.js'
import { parseReferences } from '../packages/core/dist/text/references.js'
import { parseTrailers } from '../packages/core/dist/text/trailers.js'
import { parseSourceMap } from '../packages/server/dist/subjects/git/source-maps.js'
import { readRows, takeFile } from '../packages/server/dist/subjects/imports/read-rows.js'
import { readOtlp } from '../packages/server/dist/subjects/telemetry/read-otlp.js'
import { readRequirementFile } from '../packages/server/dist/subjects/requirements/read-file.js'
import { option } from './option.mjs'
import { makeRandom } from './random.mjs'

if (process.argv.includes('--help')) {
  console.log('node scripts/fuzz-readers.mjs [--minutes 10] [--seed 1] [--reader NAME,NAME]')
  process.exit(0)
}
const minutes = Number(option('--minutes', 10))
const seed = Number(option('--seed', 1))
const root = join(import.meta.dirname, '..')
const scratch = mkdtempSync(join(tmpdir(), 'dystracer-fuzz-readers-'))

// A megabyte may cost 300 ms of the processor and any input 150 ms; what collects garbage meanwhile counts, so an input is slow when it is
// so three times.
const MS_PER_MB = 300
const LEAST_MS = 150
const random = makeRandom(seed)
const pick = (list) => list[random(list.length)]

const PIECES = [
  '<',
  '>',
  '</',
  '/>',
  '<![CDATA[',
  ']]>',
  '<!--',
  '<!DOCTYPE a [<!ENTITY b "c">]>',
  '&lt;',
  '&#27;',
  '&#0;',
  '&b;',
  '"',
  "'",
  '\\',
  '{',
]
  .concat([
    '}',
    '[',
    ']',
    ',',
    ':',
    '\0',
    '\u001b[31m',
    '\r\n',
    '\n\n',
    '\t',
    'null',
    '-1',
    '1e999',
    '9'.repeat(40),
    'a'.repeat(3000),
    '😀',
    '\ud800',
  ])
  .concat([
    '=1+1',
    'not ok 1',
    'end_of_record',
    'DA:1,1',
    '__proto__',
    'constructor',
    '../../etc/passwd',
    '%00',
    '((((((((((',
    '*+?'.repeat(40),
  ])

/** The bytes with some of them cut, doubled, flipped, mixed with another sample or spoiled by pieces. */
function spoil(sample, other) {
  let bytes = sample
  for (let turns = 1 + random(5); turns > 0; turns--) {
    const at = random(bytes.length + 1)
    const to = Math.min(bytes.length, at + random(300))
    switch (random(6)) {
      case 0:
        bytes = Buffer.concat([bytes.subarray(0, at), bytes.subarray(to)])
        break
      case 1:
        bytes = Buffer.concat([bytes.subarray(0, at), ...Array(1 + random(300)).fill(bytes.subarray(at, to)), bytes.subarray(to)])
        break
      case 2:
        bytes = Buffer.concat([bytes.subarray(0, at), other.subarray(random(other.length + 1)), bytes.subarray(to)])
        break
      case 3:
        bytes = Buffer.from(bytes)
        if (bytes.length > 0) bytes[random(bytes.length)] = random(256)
        break
      default:
        bytes = Buffer.concat([bytes.subarray(0, at), Buffer.from(pick(PIECES).repeat(1 + random(20))), bytes.subarray(at)])
    }
  }
  return bytes.subarray(0, 1_000_000)
}

const folders = ['packages/core/test-data/reports', 'packages/core/fixtures/reports'].map((folder) => join(root, folder))
const reports = folders.flatMap((folder) => readdirSync(folder).map((name) => readFileSync(join(folder, name))))
const reportsOf = (format) => reports.filter((bytes) => guessReportFormat(bytes.toString('utf8')) === format)
const texts = (...list) => list.map((text) => Buffer.from(text))
const ofText = (read) => (bytes) => read(bytes.toString('utf8'))

const OTLP = JSON.stringify({
  resourceLogs: [
    {
      resource: { attributes: [{ key: 'service.name', value: { stringValue: 'kiln' } }] },
      scopeLogs: [
        {
          logRecords: [
            {
              timeUnixNano: '1774342800000000000',
              severityNumber: 17,
              body: {
                kvlistValue: { values: [{ key: 'a', value: { arrayValue: { values: [{ intValue: '3' }, { doubleValue: 1.5 }] } } }] },
              },
              attributes: [{ key: 'exception.type', value: { stringValue: 'RangeError' } }],
            },
          ],
        },
      ],
    },
  ],
})
const TABLE = 'Title,Key,Labels,Due,Severity\n"Door, open",EMB-1,"a; b",2026-11-24,2\nLid,EMB-2,,24.11.2026,high\n'
const REQUIREMENTS = 'Key,Title,Text,Parent\nSAF-1,Heat,"The kiln shall stop above 1300 °C.",\nSAF-2,Lid,The lid shall lock.,SAF-1\n'
const REQIF = readFileSync(join(root, 'packages/core/test-data/kiln.reqif'))
const READING = zHookReading.parse({
  name: 'finished',
  tells: 'build-finished',
  when: [{ at: '/event', is: 'same', text: 'done' }],
  fields: { repository: { at: '/job/repo' }, build: { at: '/job/id' }, outcome: { at: '/job/status' } },
})
const DIFF = 'diff --git a/kiln.js b/kiln.js\n--- a/kiln.js\n+++ b/kiln.js\n@@ -1,3 +1,4 @@\n a\n-b\n+c\n+d\n e\n'
const requirements = (format) => (bytes) => readRequirementFile({ format, bytes, known: [], columns: {} })
let table = 0

/** Reader by name: what it takes, what it is spoiled from, and what it may refuse with. */
const READERS = {
  ...Object.fromEntries(
    ['junit', 'ctrf', 'cobertura', 'lcov', 'jacoco', 'clover', 'sarif'].map((format) => [
      format,
      { read: (bytes) => readReport(format, bytes), samples: reportsOf(format), refusals: ['ReportFormatError'] },
    ]),
  ),
  // Diagnoses in TAP are YAML, whose parser makes an error with its place for each thing that does not fit.
  tap: {
    read: (bytes) => readReport('tap', bytes),
    samples: reportsOf('tap'),
    refusals: ['ReportFormatError'],
    msPerMb: 10_000,
    leastMs: 1500,
  },
  // Each row is a step of a stream: a file of nothing but line breaks has as many rows as bytes.
  table: {
    msPerMb: 8000,
    leastMs: 500,
    read: async (bytes) => {
      const { text, format } = takeFile(bytes)
      const file = join(scratch, `table-${table++ % 4}`)
      writeFileSync(file, text)
      for await (const _row of readRows(file, format));
    },
    samples: texts(TABLE, '{"title":"Door","labels":["a"]}\n{"title":"Lid"}\n', '[{"title":"Door"},{"title":"Lid"}]'),
    refusals: ['Problem'],
  },
  reqif: { read: requirements('reqif'), samples: [REQIF], refusals: ['UnreadableFile'] },
  'requirement-table': { read: requirements('csv'), samples: texts(REQUIREMENTS), refusals: ['UnreadableFile'] },
  // A line that is no JSON is told with its place, which takes an error for each.
  'requirement-lines': {
    msPerMb: 20_000,
    leastMs: 500,
    read: requirements('jsonl'),
    samples: texts('{"key":"SAF-1","title":"Heat","text":"Stops."}\n'),
    refusals: ['UnreadableFile'],
  },
  'otlp-json': { read: (bytes) => readOtlp('logs', 'json', bytes), samples: texts(OTLP), refusals: ['OtlpFormatError'] },
  'otlp-protobuf': {
    read: (bytes) => readOtlp(pick(['logs', 'traces']), 'protobuf', bytes),
    samples: texts(
      '\n"\n\u0018\n\u0016\n\fservice.name\u0012\u0006\n\u0004kiln\u0012\u0006\u0012\u0004\n\u0002hi',
      '\n\u0012\n\u0010\u0012\u000e\n\fservice.name',
    ),
    refusals: ['OtlpFormatError'],
  },
  'source-map': {
    read: ofText(parseSourceMap),
    samples: texts(JSON.stringify({ version: 3, sources: ['a.ts'], sourcesContent: ['x'], names: [], mappings: 'AAAO,sBACD,YACJ' })),
    // A map that is none is said by a plain error, which its caller turns into words.
    refusals: ['Error', 'SyntaxError'],
  },
  hook: {
    read: (bytes) => readHookMessage(JSON.parse(bytes.toString('utf8')), [READING], { source: 'hook:x', id: '1', atMs: 0 }),
    samples: texts('{"event":"done","job":{"repo":"kiln","id":7,"status":"ok","list":[1,{"a/b":2}]}}'),
    refusals: ['SyntaxError'],
  },
  // The file has at most 50,000 characters; of YAML each thing that does not fit makes an error with its place.
  gates: {
    read: ofText(parseGates),
    samples: texts('main:\n  agreements: 2\n  coverage: 80\n  hours: "9-17"\n'),
    refusals: [],
    leastMs: 2000,
  },
  description: {
    read: ofText((text) => {
      const read = readDescription(text)
      return 'file' in read ? planOf(read.file, []) : read
    }),
    samples: texts(
      'starts: { branches: [main], paths: ["!docs/**"] }\nservices: [{ name: db, command: node db.js, port: 5432 }]\n' +
        'steps:\n  - { name: test, command: npm test, shards: 3, reports: [r/*.xml], environment: { A: 1 } }\n' +
        '  - { name: pack, after: [test], command: make, artefacts: ["*.tgz"], always: true }\n',
    ),
    refusals: [],
    leastMs: 2000,
  },
  owners: { read: ofText(parseOwners), samples: texts('/src/**/*.js rafe@emberwick.example\n!/src/x\n*.md ines # docs\n'), refusals: [] },
  filter: { read: ofText(parseFilter), samples: texts('open severity:1,2 -label:"a b" (owner:me or due<2026-11-24) heat'), refusals: [] },
  references: {
    read: ofText((text) => [parseReferences(text, { items: new Set(['EMB']), requirements: new Set(['SAF']) }), parseTrailers(text)]),
    samples: texts('Close the relay\n\nFixes: EMB-1, EMB-2\nTime: 1h 30m on 2026-03-02\nVerifies: SAF-3\n> quoted EMB-4\n`EMB-5`\n'),
    refusals: [],
  },
  diff: { read: ofText(readPieces), samples: texts(DIFF), refusals: [] },
  // Each line is decoded, cut and looked through.
  log: {
    msPerMb: 2000,
    read: (bytes) => {
      const { lines } = cutLines(bytes, { isWhole: true })
      if (lines.some((line) => line.length > LINE_CHARS_MAX + 40)) throw new Error('a line is longer than it may be')
      for (const line of lines) readNotableLine(line)
    },
    samples: texts(
      '$ npm test\r\n\u001b[31mnot ok 3\u001b[0m - holds\n  10 %\r100 %\nsrc/a.c:3:5: error: x\n\u001b]0;title\u0007TypeError: y\n' +
        'npm ERR! code 1\n  File "a.py", line 3\n',
    ),
    refusals: [],
  },
  steps: { read: ofText(parseSteps), samples: texts('Open the lid => It opens\nWait {"minutes": 3} => It locks\n'), refusals: [] },
}

async function once(read, bytes, refusals) {
  const before = process.cpuUsage()
  let isRefused = false
  try {
    await read(bytes)
  } catch (error) {
    if (!refusals.includes(error?.constructor?.name) || String(error.message).length < 4) throw error
    isRefused = true
  }
  const used = process.cpuUsage(before)
  return { ms: (used.user + used.system) / 1000, isRefused }
}

function keep(name, bytes, why) {
  const file = join(tmpdir(), `dystracer-fuzz-${name}-${seed}.bin`)
  writeFileSync(file, bytes)
  return new Error(`${name}: ${why}; the input is in ${file}`)
}

async function fuzz(name, { read, samples, refusals, msPerMb = MS_PER_MB, leastMs = LEAST_MS }) {
  if (samples.length === 0) throw new Error(`${name} has no samples`)
  const endAtMs = Date.now() + minutes * 60_000
  const seen = { inputs: 0, refused: 0, slowestMs: 0, ofBytes: 0 }
  while (Date.now() < endAtMs) {
    const bytes = spoil(pick(samples), pick(samples))
    const may = Math.max(leastMs, (bytes.length / 1e6) * msPerMb)
    try {
      let result = await once(read, bytes, refusals)
      for (let again = 0; again < 2 && result.ms > may; again++) result = await once(read, bytes, refusals)
      if (result.ms > may) throw keep(name, bytes, `${bytes.length} bytes took ${Math.round(result.ms)} ms of the processor`)
      if (result.ms > seen.slowestMs) Object.assign(seen, { slowestMs: result.ms, ofBytes: bytes.length })
      seen.inputs++
      if (result.isRefused) seen.refused++
    } catch (error) {
      throw error.message.includes('the input is in') ? error : keep(name, bytes, error.stack)
    }
  }
  console.log(
    `${name}: ${seen.inputs} inputs, ${seen.refused} refused in words, the slowest took ` +
      `${Math.round(seen.slowestMs)} ms (${seen.ofBytes} bytes)`,
  )
}

const asked = option('--reader', Object.keys(READERS).join(',')).split(',')
try {
  for (const name of asked) {
    const reader = READERS[name]
    if (!reader) throw new Error(`There is no reader ${name}; there are ${Object.keys(READERS).join(', ')}.`)
    await fuzz(name, reader)
  }
} catch (error) {
  console.error(error.message)
  process.exitCode = 1
} finally {
  rmSync(scratch, { recursive: true, force: true })
}

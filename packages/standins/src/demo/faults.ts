import type { DemoHistory } from './history.js'

/** A made-up runtime problem: where it throws and what it says; `{n}` varies between occurrences. */
const FAULTS: [
  repository: string,
  functionName: string,
  type: string,
  message: string,
  environment: string,
  times: number,
  spreadHours: number,
][] = [
  ['kiln-controller', 'isStuckClosed', 'RangeError', 'current sensor of kiln {n} reads 4095', 'production', 9, 0.1],
  ['kiln-controller', 'coolingDuty', 'TypeError', "Cannot read properties of null (reading 'maxRatePerHour')", 'production', 3, 60],
  ['kiln-controller', 'limiterOpens', 'TypeError', 'ratedCelsius is not a number', 'staging', 6, 0.2],
  ['kiln-controller', 'mayResume', 'RangeError', 'outage of {n} minutes is in the future', 'production', 2, 200],
  ['kiln-controller', 'countSwitching', 'Error', 'switching counter file is locked by process {n}', 'production', 4, 90],
  [
    'kiln-controller',
    'correctForTerminals',
    'TypeError',
    "Cannot read properties of undefined (reading 'terminalCelsius')",
    'staging',
    3,
    5,
  ],
  ['kiln-controller', 'dutyWithDoor', 'Error', 'door switch bounced {n} times', 'production', 3, 300],
  ['kiln-controller', 'zoneSpread', 'RangeError', 'Maximum call stack size exceeded', 'staging', 1, 1],
  ['kiln-controller', 'panelText', 'TypeError', 'celsius.toFixed is not a function', 'production', 2, 20],
  ['kiln-controller', 'stopByHand', 'Error', 'relay board did not answer within {n} ms', 'production', 3, 400],
  ['firing-planner', 'isFree', 'TypeError', "Cannot read properties of undefined (reading 'some')", 'production', 14, 0.1],
  ['firing-planner', 'segmentMinutes', 'TypeError', "Cannot read properties of undefined (reading 'rampPerHour')", 'production', 19, 0.15],
  ['firing-planner', 'nextWaiting', 'TypeError', "Cannot read properties of undefined (reading 'member')", 'production', 4, 80],
  ['firing-planner', 'expandSeries', 'RangeError', 'Invalid array length', 'production', 2, 50],
  ['firing-planner', 'mayCancel', 'TypeError', 'Cannot mix BigInt and other types, use explicit conversions', 'staging', 2, 5],
  ['firing-planner', 'openDays', 'TypeError', "Cannot read properties of undefined (reading 'includes')", 'production', 3, 120],
  ['firing-planner', 'weekStart', 'RangeError', 'Invalid time value', 'production', 4, 200],
  ['firing-planner', 'fitsShelf', 'TypeError', "Cannot read properties of undefined (reading 'clearMm')", 'staging', 7, 0.1],
  ['firing-planner', 'hoursThisWeek', 'Error', 'database is locked after {n} ms', 'production', 4, 60],
  ['firing-planner', 'soakBegins', 'Error', 'kiln {n} has no measured temperature', 'production', 3, 90],
  ['firing-planner', 'startAt', 'RangeError', 'Unknown time zone Europe/Emberwick', 'staging', 2, 3],
  ['glaze-lab', 'scaleBatch', 'RangeError', 'batch of {n} g is larger than the mixer', 'production', 3, 100],
  ['glaze-lab', 'hazardsOf', 'TypeError', "Cannot read properties of undefined (reading 'filter')", 'production', 7, 0.1],
  ['glaze-lab', 'unity', 'RangeError', 'recipe {n} has no flux', 'production', 4, 150],
  ['glaze-lab', 'readRow', 'TypeError', "Cannot read properties of undefined (reading 'replace')", 'staging', 5, 0.3],
  ['glaze-lab', 'findMaterial', 'TypeError', 'name.toLowerCase is not a function', 'production', 2, 40],
  ['glaze-lab', 'mayRead', 'Error', 'session of member-{n} has ended', 'production', 4, 300],
  ['glaze-lab', 'nextRevision', 'Error', 'revision {n} exists already', 'staging', 3, 10],
  ['glaze-lab', 'scaleBatch', 'TypeError', 'parts.map is not a function', 'staging', 2, 8],
  ['kiln-controller', 'readCelsius', 'RangeError', 'probe {n} answers after the deadline', 'staging', 4, 30],
  ['firing-planner', 'isFree', 'RangeError', 'shelf {n} is not in the book', 'production', 3, 200],
  ['glaze-lab', 'roundBatch', 'RangeError', 'toFixed() digits argument must be between 0 and 100', 'production', 1, 1],
]

export interface OccurrenceBatch {
  atMs: number
  body: object
  /** What the program told of its work around the error; of most it told nothing. */
  around?: { logs: object; traces: object }
}

/** What was under way when a fault happened, from outside in (name, attributes, when it began before), and what was said before. */
const AROUND: Record<
  string,
  { spans: [name: string, attributes: [string, string][], beganMs: number][]; said: [number, number, string][] }
> = {
  isStuckClosed: {
    spans: [
      ['control kiln', [], 640],
      [
        'read current sensor',
        [
          ['rpc.method', 'readRegister'],
          ['rpc.service', 'relay-board'],
        ],
        35,
      ],
    ],
    said: [
      [620, 9, 'kiln {n}: soak at 1240 °C, 42 min to go'],
      [410, 13, 'kiln {n}: current sensor answered the second time only'],
    ],
  },
  segmentMinutes: {
    spans: [
      [
        'plan firing',
        [
          ['http.request.method', 'POST'],
          ['http.route', '/firings'],
          ['http.response.status_code', '500'],
        ],
        180,
      ],
      [
        'load schedule',
        [
          ['db.system.name', 'sqlite'],
          ['db.operation.name', 'SELECT'],
          ['db.collection.name', 'segment'],
        ],
        140,
      ],
      ['add up minutes', [], 12],
    ],
    said: [
      [150, 9, 'firing {n}: schedule of 5 segments'],
      [20, 13, 'firing {n}: segment 3 has no ramp, the one before is taken'],
    ],
  },
  hazardsOf: {
    spans: [
      [
        'show recipe',
        [
          ['http.request.method', 'GET'],
          ['http.route', '/recipes/{id}'],
          ['http.response.status_code', '500'],
        ],
        95,
      ],
      [
        'look up material',
        [
          ['db.system.name', 'sqlite'],
          ['db.operation.name', 'SELECT'],
          ['db.collection.name', 'material'],
        ],
        60,
      ],
    ],
    said: [[30, 13, 'material {n} is not in the catalogue any more']],
  },
}

/**
 * OTLP requests for the demo's faults, with traces whose files and lines are those of the release that they
 * name. Times end a few hours before `todayMs`.
 */
export function makeOccurrences(history: DemoHistory, todayMs: number): OccurrenceBatch[] {
  return FAULTS.flatMap(([repository, functionName, type, message, environment, times, spreadHours], index) => {
    const place = placeOf(history, repository, functionName)
    if (!place) return []
    const endMs = todayMs - (2 + index * 9) * 3600_000
    return Array.from({ length: times }, (_, turn) => {
      const atMs = Math.round(endMs - (times - 1 - turn) * ((spreadHours * 3600_000) / times)) + index * 1013
      const traceId = AROUND[functionName] ? `${(index + 1).toString(16).padStart(4, '0')}${String(turn).padStart(4, '0')}`.repeat(4) : ''
      const from = { service: repository, release: place.release, environment, turn }
      return {
        atMs,
        ...(traceId && { around: aroundBody({ ...from, traceId, atMs, functionName }) }),
        body: otlpBody({
          traceId,
          service: repository,
          release: place.release,
          environment,
          atMs,
          type,
          message: message.replaceAll('{n}', String(3 + turn * 7)),
          place,
          person: `member-${(index * 5 + turn) % 23}`,
          turn,
        }),
      }
    })
  })
}

interface Place {
  release: string
  file: string
  line: number
  functionName: string
  /** Where the program's main file and its telemetry call, in that release. */
  mainLine: number
  runLine: number
}

/** The newest release whose source has the function, with the line below its head. */
function placeOf(history: DemoHistory, repository: string, functionName: string): Place | null {
  for (const release of history.releases.filter((entry) => entry.repository === repository).reverse()) {
    const files = history.filesByMark.get(release.mark) ?? {}
    const lineOf = (file: string, part: string) => (files[file] ?? '').split('\n').findIndex((text) => text.includes(part)) + 1
    for (const file of Object.keys(files)) {
      const line = lineOf(file, `function ${functionName}(`)
      if (line === 0 || !file.startsWith('src/')) continue
      return {
        release: release.name,
        file,
        line: line + 1,
        functionName,
        mainLine: lineOf('src/main.js', 'telemetry.run('),
        runLine: lineOf('src/telemetry.js', '      work()'),
      }
    }
  }
  return null
}

interface Sender {
  service: string
  release: string
  environment: string
  turn: number
}

const text = (key: string, value: string) => ({ key, value: { stringValue: value } })
const resourceOf = ({ service, release, environment, turn }: Sender) => ({
  attributes: [
    text('service.name', service),
    text('service.version', release),
    text('deployment.environment.name', environment),
    text('host.name', `studio-${1 + (turn % 3)}`),
  ],
})
const nanos = (atMs: number) => `${atMs}000000`
const spanIdOf = (traceId: string, depth: number) => `${traceId.slice(0, 14)}${depth.toString(16).padStart(2, '0')}`

/** The spans that were under way when a fault happened, and what the program logged before, as it sends them: after the error. */
function aroundBody({ traceId, atMs, functionName, ...sender }: Sender & { traceId: string; atMs: number; functionName: string }): {
  logs: object
  traces: object
} {
  const { spans, said } = AROUND[functionName] ?? { spans: [], said: [] }
  const n = String(3 + sender.turn * 7)
  const resource = resourceOf(sender)
  return {
    traces: {
      resourceSpans: [
        {
          resource,
          scopeSpans: [
            {
              spans: spans.map(([name, attributes, beganMs], depth) => ({
                traceId,
                spanId: spanIdOf(traceId, depth),
                ...(depth > 0 && { parentSpanId: spanIdOf(traceId, depth - 1) }),
                name,
                startTimeUnixNano: nanos(atMs - beganMs - sender.turn),
                endTimeUnixNano: nanos(atMs + spans.length - depth),
                attributes: attributes.map(([key, value]) => text(key, value)),
              })),
            },
          ],
        },
      ],
    },
    logs: {
      resourceLogs: [
        {
          resource,
          scopeLogs: [
            {
              logRecords: said.map(([beforeMs, severityNumber, words]) => ({
                traceId,
                spanId: spanIdOf(traceId, 0),
                timeUnixNano: nanos(atMs - beforeMs),
                severityNumber,
                body: { stringValue: words.replaceAll('{n}', n) },
              })),
            },
          ],
        },
      ],
    },
  }
}

function otlpBody(input: {
  traceId: string
  service: string
  release: string
  environment: string
  atMs: number
  type: string
  message: string
  place: Place
  person: string
  turn: number
}): object {
  const { place } = input
  const root = `/srv/${input.service}-${input.release}`
  const stacktrace = [
    `${input.type}: ${input.message}`,
    `    at ${place.functionName} (${root}/${place.file}:${place.line}:${10 + place.line})`,
    `    at ${root}/src/main.js:${place.mainLine}:72`,
    `    at Object.run (${root}/src/telemetry.js:${place.runLine}:7)`,
    `    at Timeout._onTimeout (${root}/src/main.js:${place.mainLine}:34)`,
    '    at listOnTimeout (node:internal/timers:581:17)',
    '    at process.processTimers (node:internal/timers:519:7)',
  ].join('\n')
  return {
    resourceLogs: [
      {
        resource: resourceOf(input),
        scopeLogs: [
          {
            logRecords: [
              {
                ...(input.traceId && {
                  traceId: input.traceId,
                  spanId: spanIdOf(input.traceId, (AROUND[place.functionName]?.spans.length ?? 1) - 1),
                }),
                timeUnixNano: nanos(input.atMs),
                severityNumber: 17,
                severityText: 'ERROR',
                body: { stringValue: input.message },
                attributes: [
                  text('exception.type', input.type),
                  text('exception.message', input.message),
                  text('exception.stacktrace', stacktrace),
                  text('user.id', input.person),
                ],
              },
            ],
          },
        ],
      },
    ],
  }
}

/**
 * `tools/check.mjs` of Emberwick's repositories: reads their programs and writes what it finds as SARIF 2.1.0. It knows four rules; each
 * says of what kind it is, and what it takes to mend.
 */
export const checkSource = `// Reads src/*.js and writes checks.sarif. It says what it finds, and breaks nothing.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'

const RULES = [
  {
    id: 'unasked-value',
    shortDescription: { text: 'A value of a caller\\u2019s object is used as if it were always there' },
    defaultConfiguration: { level: 'error' },
    properties: { tags: ['correctness'], minutes: 20 },
  },
  {
    id: 'number-without-name',
    shortDescription: { text: 'A number says neither what it is nor in what unit' },
    defaultConfiguration: { level: 'note' },
    properties: { tags: ['maintainability'], minutes: 5 },
  },
  {
    id: 'long-line',
    shortDescription: { text: 'A line is longer than 120 characters' },
    defaultConfiguration: { level: 'note' },
    properties: { tags: ['style'], minutes: 2 },
  },
  {
    id: 'address-from-outside',
    shortDescription: { text: 'What a request says is used without being checked' },
    defaultConfiguration: { level: 'warning' },
    properties: { tags: ['security', 'external/cwe/cwe-20'], minutes: 30 },
  },
]
/** Numbers that say enough by themselves. */
const PLAIN = new Set(['0', '1', '2', '10', '60', '100', '1000'])
const results = []
const place = (uri, startLine) => ({ physicalLocation: { artifactLocation: { uri }, region: { startLine } } })
const step = (uri, line, text) => ({ location: { message: { text }, ...place(uri, line) } })

function check(uri, text) {
  const lines = text.split('\\n')
  let parameters = []
  let began = 0
  const taken = new Map()
  lines.forEach((line, at) => {
    const number = at + 1
    const code = line.replace(/\\/\\/.*$/, '').replace(/'[^']*'|"[^"]*"/g, "''")
    const head = /function (\\w+)\\(([^)]*)\\)/.exec(code)
    if (head) {
      parameters = head[2].split(',').map((word) => word.trim()).filter(Boolean)
      began = number
      taken.clear()
    }
    if (line.length > 120) add('long-line', uri, number, 'This line has ' + line.length + ' characters; 120 are read at a glance')
    const alias = /const (\\w+) = (\\w+)\\.(\\w+)\\s*$/.exec(code)
    if (alias && parameters.includes(alias[2])) taken.set(alias[1], { of: alias[2], part: alias[3], line: number })
    for (const [, name, part] of code.matchAll(/(\\w+)\\.(\\w+)/g)) {
      const known = taken.get(name)
      if (known && !new RegExp('if \\\\(!?' + name + '|' + name + ' ===').test(text))
        add('unasked-value', uri, number, known.of + '.' + known.part + ' may be undefined where its ' + part + ' is read', {
          codeFlows: [{ threadFlows: [{ locations: [
            step(uri, began, known.of + ' comes from whoever calls'),
            step(uri, known.line, known.part + ' is taken of it, and may not be there'),
            step(uri, number, part + ' is read of that'),
          ] }] }],
          fixes: [{ description: { text: 'Ask for it first: ' + name + '?.' + part } }],
        })
    }
    for (const [, value] of code.matchAll(/(?<![\\w.])(\\d+(?:\\.\\d+)?)(?![\\w.])/g))
      if (head === null && began > 0 && !PLAIN.has(value))
        add('number-without-name', uri, number, value + ' has no name here: say what it is, and in what unit')
    if (/searchParams\\.get\\(/.test(code))
      add('address-from-outside', uri, number, 'What the address of a request says is used unchecked')
  })
}

function add(ruleId, uri, line, text, more = {}) {
  if (results.some((one) => one.ruleId === ruleId && one.line === line && one.uri === uri)) return
  results.push({ ruleId, line, uri, message: { text }, locations: [place(uri, line)], ...more })
}

const names = readdirSync('src').filter((file) => file.endsWith('.js'))
for (const name of names.sort()) check('src/' + name, readFileSync('src/' + name, 'utf8'))
const driver = { name: 'kiln-check', rules: RULES }
const log = { version: '2.1.0', runs: [{ tool: { driver }, results: results.map(({ line, uri, ...result }) => result) }] }
writeFileSync('checks.sarif', JSON.stringify(log, null, 1))
for (const { ruleId, uri, line, message } of results) console.log(uri + ':' + line + ' ' + ruleId + ' ' + message.text)
console.log(results.length + ' found')
`

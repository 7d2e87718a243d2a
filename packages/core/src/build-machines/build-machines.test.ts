import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { z } from 'zod'
import { doesStart, filesMatching, nextSteps, planOf, runsOf, type StepEnd } from './build-plan.js'
import { readDescription, zDescriptionFile, type BuildPlan, type DescriptionFile } from './description.js'
import { manifestsOf, suggestDescription } from './suggest.js'

const fileOf = (text: string): DescriptionFile => {
  const read = readDescription(text)
  if ('problems' in read) throw new Error(JSON.stringify(read.problems))
  return read.file
}
const problemsOf = (text: string) => {
  const read = readDescription(text)
  return 'problems' in read ? read.problems : []
}
const planned = (text: string, included: string[] = []): BuildPlan => {
  const plan = planOf(
    fileOf(text),
    included.map((one, at) => ({ label: `file ${at}`, file: fileOf(one) })),
  )
  if ('problems' in plan) throw new Error(JSON.stringify(plan.problems))
  return plan.plan
}

describe('a build description', () => {
  test('says for each step what it runs, what it waits for, how long it may take and what it leaves', () => {
    const plan = planned(`
environment: { LEVEL: 2 }
passes: [NPM_TOKEN]
services: [{ name: database, command: node db.js, port: 5432 }]
steps:
  - { name: install, command: npm ci }
  - name: test
    command: npm test -- --part {shard}/{shards}
    shards: 3
    minutes: 5
    reports: [reports/*.xml]
  - { name: lint, command: npm run lint, after: [install], always: true }
`)
    expect(plan).toMatchObject({
      environment: { LEVEL: '2' },
      passes: ['NPM_TOKEN'],
      services: [{ name: 'database', port: 5432 }],
      steps: [
        { name: 'install', after: [], minutes: 30, shards: 1, isAlways: false },
        { name: 'test', after: ['install'], minutes: 5, reports: ['reports/*.xml'] },
        { name: 'lint', after: ['install'], isAlways: true },
      ],
    })
    const [, test] = plan.steps
    expect(test && runsOf(test).map(({ name, command }) => [name, command])).toEqual([
      ['test/1 of 3', 'npm test -- --part 1/3'],
      ['test/2 of 3', 'npm test -- --part 2/3'],
      ['test/3 of 3', 'npm test -- --part 3/3'],
    ])
  })

  test('names everything that is wrong with it, each with its line', () => {
    expect(problemsOf('steps:\n  - name: test\n    command: make\n    timeout: 5\n  - name: test\n    command: ""\n')).toEqual([
      { line: 4, text: expect.stringContaining('steps › 1 › timeout: is not known here') },
      { line: 6, text: expect.stringContaining('steps › 2 › command') },
    ])
    expect(problemsOf('steps:\n  - { name: a, command: x, after: [b] }\n  - { name: a, command: y, folder: ../up }\n')).toEqual([
      { line: 2, text: expect.stringContaining('no step “b” stands above') },
      { line: 3, text: expect.stringContaining('another step “a”') },
      { line: 3, text: expect.stringContaining('outside the repository') },
    ])
    expect(problemsOf('steps: [')).toEqual([{ line: 1, text: expect.any(String) }])
    expect(problemsOf('environment: {}\n')).toEqual([{ line: null, text: expect.stringContaining('there is none') }])
  })

  test('that grows by references, or is no mapping, is refused', () => {
    expect(problemsOf('a: &a [x, x]\nb: &b [*a, *a]\nsteps: [*b]\n')).not.toEqual([])
    expect(problemsOf('- '.repeat(24_000))).toEqual([{ line: null, text: 'it is nested too deep' }])
    for (const text of ['', 'just words', '- a\n- b', '\u0000', 'a: '.repeat(30_000)]) expect(problemsOf(text)).not.toEqual([])
  })

  test('reads whatever there is without failing', () => {
    fc.assert(fc.property(fc.string({ maxLength: 300 }), (text) => void readDescription(text)))
    fc.assert(
      fc.property(fc.json({ maxDepth: 4 }), (text) => {
        const read = readDescription(`steps: ${text}`)
        expect('file' in read || read.problems.length > 0).toBe(true)
      }),
    )
  })

  test('has a JSON Schema that knows all of its words', () => {
    const schema = z.toJSONSchema(zDescriptionFile, { io: 'input' })
    expect(Object.keys(schema.properties ?? {})).toEqual(['starts', 'environment', 'passes', 'include', 'services', 'steps'])
  })
})

describe('a plan', () => {
  const HOUSE =
    'environment: { A: house, B: house }\nsteps:\n  - { name: install, command: npm ci }\n  - { name: test, command: npm test }\n'

  test('has what is included first; a step of the file takes the place of one of its name', () => {
    const plan = planned(
      [
        'environment: { B: own }',
        'include: [{ repository: house }]',
        'steps: [{ name: test, command: make test }, { name: pack, command: make pack }]',
      ].join('\n'),
      [HOUSE],
    )
    expect(plan.environment).toEqual({ A: 'house', B: 'own' })
    expect(plan.steps.map(({ name, command, after }) => [name, command, after])).toEqual([
      ['install', 'npm ci', []],
      ['test', 'make test', ['install']],
      ['pack', 'make pack', ['test']],
    ])
  })

  test('whose steps wait for each other, or for none, is none', () => {
    const file = fileOf(
      'include: [{ repository: x }]\nsteps:\n  - { name: a, command: x, after: [b] }\n  - { name: b, command: x, after: [a] }\n',
    )
    expect(planOf(file, [])).toEqual({ problems: [{ line: null, text: expect.stringContaining('a, b') }] })
    const lost = fileOf('include: [{ repository: x }]\nsteps:\n  - { name: a, command: x, after: [nothing] }\n')
    expect(planOf(lost, [])).toMatchObject({ problems: [{ text: expect.stringContaining('“nothing”') }, {}] })
  })

  test('is carried out to its end in any order of ends: every step once, none before what it waits for, and none after what broke', () => {
    const plans = fc
      .array(fc.record({ waits: fc.array(fc.nat(9), { maxLength: 3 }), isAlways: fc.boolean() }), { minLength: 1, maxLength: 10 })
      .map((steps): BuildPlan['steps'] =>
        steps.map(({ waits, isAlways }, at) => ({
          name: String(at),
          command: 'x',
          after: [...new Set(waits.filter((other) => other < at).map(String))],
          shards: 1,
          minutes: 1,
          environment: {},
          folder: '',
          reports: [],
          artefacts: [],
          isAlways,
        })),
      )
    fc.assert(
      fc.property(plans, fc.infiniteStream(fc.nat()), fc.infiniteStream(fc.boolean()), (steps, picks, outcomes) => {
        const plan = { environment: {}, passes: [], services: [], steps }
        const ends = new Map<string, StepEnd>()
        const begun = new Set<string>()
        for (;;) {
          const { now, never } = nextSteps(plan, ends, begun)
          for (const step of never) {
            expect(step.after.some((name) => (ends.get(name) ?? 'passed') !== 'passed')).toBe(true)
            ends.set(step.name, 'skipped')
          }
          for (const step of now) {
            expect(step.after.every((name) => ends.has(name))).toBe(true)
            begun.add(step.name)
          }
          if (begun.size === 0 && never.length === 0) break
          const [ended] = [...begun].slice((picks.next().value ?? 0) % Math.max(1, begun.size))
          if (ended === undefined) continue
          begun.delete(ended)
          ends.set(ended, outcomes.next().value ? 'passed' : 'broke')
        }
        expect(ends.size).toBe(steps.length)
        for (const { name, after, isAlways } of steps)
          if (!isAlways && after.some((one) => ends.get(one) !== 'passed')) expect(ends.get(name)).toBe('skipped')
      }),
    )
  })
})

describe('what starts a build', () => {
  const starts = (starts: string, push: Parameters<typeof doesStart>[1]) =>
    doesStart(fileOf(`${starts}\nsteps: [{ name: t, command: x }]`), push)

  test('is a push to a branch that is named, which changes a path that counts; without words about it, people', () => {
    expect(starts('', { branch: 'main', paths: null })).toBe(false)
    expect(starts('starts: {}', { branch: 'main', paths: ['a'] })).toBe(true)
    expect(starts('starts: { branches: [main, "release/*"] }', { branch: 'release/4', paths: null })).toBe(true)
    expect(starts('starts: { branches: [main] }', { branch: 'feature/x', paths: null })).toBe(false)
    const paths = 'starts: { paths: [src/**, "!**/*.md"] }'
    expect(starts(paths, { branch: 'x', paths: ['src/a.js'] })).toBe(true)
    expect(starts(paths, { branch: 'x', paths: ['src/a.md', 'docs/b.js'] })).toBe(false)
    expect(starts('starts: { paths: ["!**/*.md"] }', { branch: 'x', paths: ['README.md'] })).toBe(false)
    expect(starts('starts: { paths: ["!**/*.md"] }', { branch: 'x', paths: ['README.md', 'a.c'] })).toBe(true)
  })

  test('files are named as in a file that git ignores by', () => {
    expect(filesMatching(['reports/a.xml', 'x/reports/b.xml', 'reports/c.txt'], ['reports/*.xml'])).toEqual(['reports/a.xml'])
    expect(filesMatching(['docs/a.md', 'src/a.md', 'src/b.c'], ['**', '!docs/**', '!*.md', 'docs/a.md'])).toEqual(['docs/a.md', 'src/b.c'])
    expect(filesMatching(['a/b/TEST-1.xml', 'TEST-2.xml'], ['**/TEST-*.xml'])).toEqual(['a/b/TEST-1.xml', 'TEST-2.xml'])
  })
})

describe('a suggestion', () => {
  const suggested = (files: Record<string, string>) => {
    const paths = Object.keys(files)
    return suggestDescription(paths, new Map(manifestsOf(paths).map((path) => [path, files[path] ?? ''])))
  }
  const commandsOf = (files: Record<string, string>) => {
    const found = suggested(files)
    return found && fileOf(found.text).steps.map((step) => step.command)
  }

  test.each<[string, Record<string, string>, string[]]>([
    [
      'Node.js',
      { 'package.json': '{"scripts":{"test":"vitest","lint":"eslint ."},"devDependencies":{"vitest":"3"}}', 'package-lock.json': '' },
      ['npm ci', 'npm run lint', 'npx vitest run --reporter=default --reporter=junit --outputFile.junit=reports/junit.xml'],
    ],
    [
      'Python',
      { 'pyproject.toml': '[project]\nname = "x"\n', 'tests/conftest.py': '' },
      ['python3 -m venv .venv && .venv/bin/pip install pytest -e .', '.venv/bin/python -m pytest --junitxml=reports/junit.xml'],
    ],
    ['Java by Maven', { 'pom.xml': '<project/>', mvnw: '' }, ['./mvnw --batch-mode verify']],
    ['Java by Gradle', { 'build.gradle.kts': 'plugins { jacoco }', gradlew: '' }, ['./gradlew build jacocoTestReport']],
    ['Go', { 'go.mod': 'module x\n' }, ['go build ./...', 'go vet ./...', 'go test ./...']],
    ['Rust', { 'Cargo.toml': '', 'Cargo.lock': '' }, ['cargo build --locked', 'cargo test --locked']],
    [
      '.NET',
      { 'Kiln.sln': '', 'src/Kiln.csproj': '' },
      ['dotnet restore', 'dotnet build --no-restore', 'dotnet test --no-build --logger "junit;LogFilePath=../reports/{assembly}.xml"'],
    ],
    [
      'C by CMake',
      { 'CMakeLists.txt': '', Makefile: 'all:\n' },
      ['cmake -S . -B build', 'cmake --build build --parallel', 'ctest --test-dir build --output-on-failure --output-junit junit.xml'],
    ],
    ['C by make', { Makefile: 'all:\n\ncheck: all\n' }, ['make', 'make check']],
  ])('knows %s by its manifest and gives its own commands', (_, files, commands) => {
    expect(commandsOf(files)).toEqual(commands)
  })

  test('of several parts lets each run by itself in its folder', () => {
    const found = suggested({
      'web/package.json': '{"scripts":{"test":"node --test"}}',
      'firmware/Cargo.toml': '',
      'firmware/hal/Cargo.toml': '',
    })
    expect(found?.found).toEqual([
      { what: 'Node.js', by: 'web/package.json' },
      { what: 'Rust', by: 'firmware/Cargo.toml' },
    ])
    expect(fileOf(found?.text ?? '').steps.map(({ name, folder, after }) => [name, folder, after])).toEqual([
      ['web: test', 'web', []],
      ['firmware: build', 'firmware', []],
      ['firmware: test', 'firmware', ['firmware: build']],
    ])
  })

  test('is none where nothing is known, and takes broken manifests for nothing', () => {
    expect(suggested({ 'README.md': '' })).toBeNull()
    expect(suggested({ 'package.json': '{' })).toBeNull()
    expect(suggested({ 'node_modules/x/package.json': '{"scripts":{"test":"node --test"}}' })).toBeNull()
  })
})

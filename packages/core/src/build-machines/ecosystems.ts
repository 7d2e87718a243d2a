import { parse as parseToml } from 'smol-toml'
import { z } from 'zod'

/** The files below one folder, by their paths from there. */
export interface FoundFiles {
  has(path: string): boolean
  some(pattern: RegExp): boolean
  /** The text of a manifest; null where there is none. */
  text(path: string): string | null
}
/** A step as it would be written. */
export interface SuggestedStep {
  name: string
  command: string
  reports?: string[]
  artefacts?: string[]
}
/** One kind of program: how it is known, and by which commands it is built and tested, as its own documents say. */
export interface Ecosystem {
  name: string
  manifest: RegExp
  /** Null where the manifest does not say enough. */
  read(files: FoundFiles): { steps: SuggestedStep[]; notes?: string[] } | null
}

const JUNIT = 'reports/junit.xml'
const names = (...all: (string | false)[]) => all.filter((one) => one !== false)

const zPackageJson = z.object({
  scripts: z.record(z.string(), z.string()).default({}),
  dependencies: z.record(z.string(), z.string()).default({}),
  devDependencies: z.record(z.string(), z.string()).default({}),
})

function readNode(files: FoundFiles): ReturnType<Ecosystem['read']> {
  const parsed = zPackageJson.safeParse(jsonOf(files.text('package.json')))
  if (!parsed.success) return null
  const { scripts, dependencies, devDependencies } = parsed.data
  const uses = { ...dependencies, ...devDependencies }
  const manager = files.has('pnpm-lock.yaml') ? 'pnpm' : files.has('yarn.lock') ? 'yarn' : 'npm'
  const install = files.has('package-lock.json') || files.has('npm-shrinkwrap.json') ? 'npm ci' : 'npm install'
  const steps: SuggestedStep[] = []
  if (Object.keys(uses).length > 0)
    steps.push({ name: 'install', command: manager === 'npm' ? install : `${manager} install --frozen-lockfile` })
  for (const name of ['lint', 'build'] as const) if (scripts[name]) steps.push({ name, command: `${manager} run ${name}` })
  const test = testOfNode(scripts.test ?? '', uses, manager)
  if (test) steps.push(test.step)
  return { steps, notes: test?.note ? [test.note] : [] }
}

function testOfNode(
  script: string,
  uses: Readonly<Record<string, string>>,
  manager: string,
): { step: SuggestedStep; note?: string } | null {
  if (script === '' || /no test specified/.test(script)) return null
  const plain: SuggestedStep = { name: 'test', command: manager === 'npm' ? 'npm test' : `${manager} test` }
  if (/\bnode\b.* --test\b/.test(script))
    return {
      step: {
        name: 'test',
        command: [
          `mkdir -p reports && ${script} --test-reporter=spec --test-reporter-destination=stdout`,
          `--test-reporter=junit --test-reporter-destination=${JUNIT}`,
        ].join(' '),
        reports: [JUNIT],
      },
    }
  if (/\bvitest\b/.test(script))
    return {
      step: { name: 'test', command: `npx vitest run --reporter=default --reporter=junit --outputFile.junit=${JUNIT}`, reports: [JUNIT] },
    }
  if (/\bmocha\b/.test(script))
    return { step: { name: 'test', command: `npx mocha --reporter xunit --reporter-option output=${JUNIT}`, reports: [JUNIT] } }
  if (/\bjest\b/.test(script) && 'jest-junit' in uses)
    return { step: { name: 'test', command: `${script} --ci --reporters=default --reporters=jest-junit`, reports: ['junit.xml'] } }
  const note = /\bjest\b/.test(script)
    ? 'With the package jest-junit each test of Jest is told by itself; without it only whether all passed.'
    : 'What its tests say one by one is known once “reports” names the file that they write.'
  return { step: plain, note }
}

function readPython(files: FoundFiles): ReturnType<Ecosystem['read']> {
  const pyproject = files.text('pyproject.toml')
  const all = names(pyproject ?? '', files.text('requirements.txt') ?? '', files.text('requirements-dev.txt') ?? '').join('\n')
  const steps: SuggestedStep[] = []
  let run = '.venv/bin/python -m'
  if (files.has('uv.lock')) {
    steps.push({ name: 'install', command: 'uv sync --frozen' })
    run = 'uv run python -m'
  } else if (files.has('poetry.lock')) {
    steps.push({ name: 'install', command: 'poetry install --no-interaction' })
    run = 'poetry run python -m'
  } else {
    const wanted = [
      ...['requirements.txt', 'requirements-dev.txt'].filter((name) => files.has(name)).map((name) => `-r ${name}`),
      ...(isPackage(pyproject) || files.has('setup.py') ? ['-e .'] : []),
    ]
    const isPytest = usesPytest(files, all)
    const isListed = /(?:^|["'\s])pytest\b/m.test(all)
    const pip = [...(isPytest && !isListed ? ['pytest'] : []), ...wanted].join(' ')
    steps.push({ name: 'install', command: `python3 -m venv .venv${pip === '' ? '' : ` && .venv/bin/pip install ${pip}`}` })
  }
  if (/\bruff\b/.test(all)) steps.push({ name: 'lint', command: `${run} ruff check .` })
  if (usesPytest(files, all)) steps.push({ name: 'test', command: `${run} pytest --junitxml=${JUNIT}`, reports: [JUNIT] })
  else if (files.some(/(?:^|\/)test[^/]*\.py$/)) steps.push({ name: 'test', command: `${run} unittest discover` })
  return { steps }
}

const usesPytest = (files: FoundFiles, all: string): boolean =>
  /\bpytest\b/.test(all) || files.has('pytest.ini') || files.has('conftest.py') || files.has('tests/conftest.py')

function isPackage(pyproject: string | null): boolean {
  if (pyproject === null) return false
  try {
    const read = parseToml(pyproject)
    return 'project' in read || 'build-system' in read
  } catch (error) {
    if (error instanceof Error) return false
    throw error
  }
}

function readMaven(files: FoundFiles): ReturnType<Ecosystem['read']> {
  const maven = files.has('mvnw') ? './mvnw' : 'mvn'
  const covers = /jacoco-maven-plugin/.test(files.text('pom.xml') ?? '')
  return {
    steps: [
      {
        name: 'verify',
        command: `${maven} --batch-mode verify`,
        reports: names(
          '**/target/surefire-reports/*.xml',
          '**/target/failsafe-reports/*.xml',
          covers && '**/target/site/jacoco/jacoco.xml',
        ),
        artefacts: ['target/*.jar'],
      },
    ],
  }
}

function readGradle(files: FoundFiles): ReturnType<Ecosystem['read']> {
  const covers = /\bjacoco\b/.test(files.text('build.gradle') ?? files.text('build.gradle.kts') ?? '')
  const gradle = files.has('gradlew') ? './gradlew' : 'gradle'
  return {
    steps: [
      {
        name: 'build',
        command: `${gradle} build${covers ? ' jacocoTestReport' : ''}`,
        reports: names('**/build/test-results/**/*.xml', covers && '**/build/reports/jacoco/**/*.xml'),
        artefacts: ['build/libs/*.jar'],
      },
    ],
  }
}

function readGo(files: FoundFiles): ReturnType<Ecosystem['read']> {
  const hasReporter = /\bgotest\.tools\/gotestsum\b/.test(files.text('go.mod') ?? '')
  return {
    steps: [
      { name: 'build', command: 'go build ./...' },
      { name: 'vet', command: 'go vet ./...' },
      hasReporter
        ? { name: 'test', command: `mkdir -p reports && go tool gotestsum --junitfile ${JUNIT} ./...`, reports: [JUNIT] }
        : { name: 'test', command: 'go test ./...' },
    ],
    notes: hasReporter ? [] : ['go test tells only whether all passed; with gotestsum as a tool of go.mod each test is told by itself.'],
  }
}

function readRust(files: FoundFiles): ReturnType<Ecosystem['read']> {
  const locked = files.has('Cargo.lock') ? ' --locked' : ''
  const isNextest = files.has('.config/nextest.toml')
  return {
    steps: [
      { name: 'build', command: `cargo build${locked}` },
      isNextest
        ? { name: 'test', command: `cargo nextest run --profile ci${locked}`, reports: ['target/nextest/ci/junit.xml'] }
        : { name: 'test', command: `cargo test${locked}` },
    ],
    notes: isNextest ? [] : ['cargo test tells only whether all passed; a runner that writes JUnit XML tells each test by itself.'],
  }
}

function readDotnet(files: FoundFiles): ReturnType<Ecosystem['read']> {
  return {
    steps: [
      { name: 'restore', command: 'dotnet restore' },
      { name: 'build', command: 'dotnet build --no-restore' },
      {
        name: 'test',
        command: 'dotnet test --no-build --logger "junit;LogFilePath=../reports/{assembly}.xml"',
        reports: ['**/reports/*.xml'],
      },
    ],
    notes: files.some(/\.(?:cs|fs)proj$/) ? ['dotnet test writes JUnit XML where its projects use the package JunitXml.TestLogger.'] : [],
  }
}

function readCmake(): ReturnType<Ecosystem['read']> {
  return {
    steps: [
      { name: 'configure', command: 'cmake -S . -B build' },
      { name: 'build', command: 'cmake --build build --parallel' },
      { name: 'test', command: 'ctest --test-dir build --output-on-failure --output-junit junit.xml', reports: ['build/junit.xml'] },
    ],
  }
}

function readMeson(): ReturnType<Ecosystem['read']> {
  return {
    steps: [
      { name: 'configure', command: 'meson setup build' },
      { name: 'build', command: 'meson compile -C build' },
      { name: 'test', command: 'meson test -C build --print-errorlogs', reports: ['build/meson-logs/testlog.junit.xml'] },
    ],
  }
}

function readMake(files: FoundFiles): ReturnType<Ecosystem['read']> {
  const text = files.text('Makefile') ?? files.text('makefile') ?? ''
  const has = (target: string) => new RegExp(`^${target}\\s*:(?!=)`, 'm').test(text)
  const test = ['check', 'test'].find(has)
  return { steps: [{ name: 'build', command: 'make' }, ...(test ? [{ name: 'test', command: `make ${test}` }] : [])] }
}

function jsonOf(text: string | null): unknown {
  try {
    return JSON.parse(text ?? 'null')
  } catch (error) {
    if (error instanceof SyntaxError) return null
    throw error
  }
}

/** The kinds of programs that are known, each by its manifest. */
export const ECOSYSTEMS: readonly Ecosystem[] = [
  { name: 'Node.js', manifest: /(?:^|\/)package\.json$/, read: readNode },
  { name: 'Python', manifest: /(?:^|\/)(?:pyproject\.toml|setup\.py|requirements\.txt)$/, read: readPython },
  { name: 'Java (Maven)', manifest: /(?:^|\/)pom\.xml$/, read: readMaven },
  { name: 'Java (Gradle)', manifest: /(?:^|\/)build\.gradle(?:\.kts)?$/, read: readGradle },
  { name: 'Go', manifest: /(?:^|\/)go\.mod$/, read: readGo },
  { name: 'Rust', manifest: /(?:^|\/)Cargo\.toml$/, read: readRust },
  { name: '.NET', manifest: /\.(?:sln|csproj|fsproj)$/, read: readDotnet },
  { name: 'C/C++ (CMake)', manifest: /(?:^|\/)CMakeLists\.txt$/, read: readCmake },
  { name: 'C/C++ (Meson)', manifest: /(?:^|\/)meson\.build$/, read: readMeson },
  { name: 'make', manifest: /(?:^|\/)[Mm]akefile$/, read: readMake },
]

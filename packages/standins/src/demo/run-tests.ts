import { existsSync, readFileSync } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { run } from './fast-import.js'

const LCOV = 'coverage.lcov'
const JUNIT = 'junit.xml'
/** What a run writes: its cases, which lines they ran, and for people what it does. */
const REPORTERS = [
  '--test-reporter=spec',
  '--test-reporter-destination=stdout',
  '--test-reporter=junit',
  `--test-reporter-destination=${JUNIT}`,
  '--test-reporter=lcov',
  `--test-reporter-destination=${LCOV}`,
]

/** What a run of tests leaves: its reports, what its checks found, and what it printed, with the colours of a terminal. */
export interface TestRun {
  junit: string
  lcov: string
  sarif: string
  log: string
  isGreen: boolean
}

/** Checks a commit out into a folder of its own, and runs its tests and its own checks there. */
export async function runTests(repositoryDir: string, sha: string): Promise<TestRun> {
  const dir = await mkdtemp(join(tmpdir(), 'dystracer-build-'))
  try {
    const archive = await run('git', ['archive', '--format=tar', sha], { dir: repositoryDir })
    await run('tar', ['-x'], { dir, input: archive })
    const printed: Buffer[] = []
    await run(process.execPath, ['--test', '--experimental-test-coverage', ...REPORTERS], {
      dir,
      allowFailure: true,
      isPatient: true,
      env: { NODE_ENV: 'test', FORCE_COLOR: '1' },
      onOutput: (chunk) => printed.push(chunk),
    })
    await run(process.execPath, ['tools/check.mjs'], { dir, allowFailure: true, isPatient: true })
    const log = Buffer.concat(printed).toString('utf8').replaceAll(`file://${dir}/`, '').replaceAll(`${dir}/`, '')
    const written = (name: string) => (existsSync(join(dir, name)) ? readFileSync(join(dir, name), 'utf8') : '')
    const [junit, lcov, sarif] = [written(JUNIT), written(LCOV), written('checks.sarif')]
    return {
      log,
      junit: junit.replaceAll(dir, ''),
      lcov: lcov.replaceAll(`${dir}/`, ''),
      sarif,
      isGreen: junit.includes('<testcase') && !junit.includes('<failure'),
    }
  } finally {
    await rm(dir, { recursive: true, force: true })
  }
}

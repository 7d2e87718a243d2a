import { afterEach, describe, expect, test } from '@jest/globals'
import { within } from '@testing-library/react'
import type { BuildDescription, BuildMachine, WantedBuild } from '@dystracer/core/build-machines/wire'
import { toast } from 'sonner'
import { aMe } from '#shared/test/a-me'
import { aRepository } from '#shared/test/a-repository'
import { show, type Answers } from '#shared/test/shown'
import { BuildDescriptions } from './BuildDescriptions'
import { BuildMachines } from './BuildMachines'
import { WantedBuilds } from './WantedBuilds'
import { WantedOfBuild } from './WantedOfBuild'

const AT_MS = 1_770_000_000_000
const aWanted = (given: Partial<WantedBuild> = {}): WantedBuild => ({
  wantedId: 'w-1',
  repository: 'kiln',
  branch: 'main',
  sha: 'a'.repeat(40),
  state: 'waiting',
  outcome: null,
  by: 'ines',
  wantedAtMs: AT_MS,
  takenAtMs: null,
  endedAtMs: null,
  machine: null,
  number: null,
  isAgain: false,
  ...given,
})
const aMachine = (given: Partial<BuildMachine> = {}): BuildMachine => ({
  name: 'bench-1',
  lastSeenAtMs: AT_MS,
  isHere: true,
  repositories: [],
  wantedId: null,
  ...given,
})
const answers = (rows: WantedBuild[], machines: BuildMachine[] = [aMachine()], given: Answers = {}): Answers => ({
  readMe: () => aMe(),
  listWantedBuilds: () => ({ rows, machines }),
  listRepositories: () => ({ rows: [aRepository({ repository: 'kiln', mainBranch: 'main' })] }),
  ...given,
})
afterEach(() => void toast.dismiss())

describe('wanted builds', () => {
  test('say how they stand and on which machine, and can be stopped', async () => {
    const stopped: unknown[] = []
    const rows = [
      aWanted({ number: 7, state: 'running', machine: 'bench-1' }),
      aWanted({ wantedId: 'w-2', branch: 'topic', by: null }),
      aWanted({ wantedId: 'w-3', state: 'ended', outcome: 'passed', number: 6 }),
    ]
    const { findByRole, user } = show(<WantedBuilds />, {
      answers: answers(rows, [], {
        stopWantedBuild: ({ params }) => {
          stopped.push(params)
          return aWanted({ state: 'stopping' })
        },
      }),
    })
    const part = await findByRole('region', { name: 'Wanted builds' })
    expect(part.textContent).toContain('kiln 7 runs on bench-1')
    expect(part.textContent).toContain('kiln topic waits: no build machine asks for it · by a push')
    expect(part.textContent).not.toContain('kiln 6')
    const [first] = within(part).getAllByRole('button', { name: 'Stop' })
    if (first) await user.click(first)
    expect(stopped).toEqual([{ repository: 'kiln', wantedId: 'w-1' }])
  })

  test('of a branch are asked for by its name, with what is wrong beside it', async () => {
    const wanted: unknown[] = []
    const { findByRole, getByRole, queryByRole, user } = show(<WantedBuilds />, {
      answers: answers([], [aMachine({ repositories: ['planner'] })], {
        wantBuild: ({ params, body }) => {
          wanted.push({ ...params, ...body })
          if (body.branch !== 'main') return { refused: 'invalid-input', fields: { branch: 'There is no branch x' } }
          return aWanted()
        },
      }),
    })
    await user.click(await findByRole('button', { name: 'Build a branch…' }))
    const dialog = getByRole('dialog', { name: 'Build a branch' })
    await within(dialog).findByText(/No build machine asks for builds of kiln now/)
    const branch = within(dialog).getByLabelText(/Branch/)
    await user.clear(branch)
    await user.type(branch, 'x{Enter}')
    expect((await within(dialog).findByRole('alert')).textContent).toBe('There is no branch x')
    await user.clear(branch)
    await user.type(branch, 'main{Enter}')
    expect(wanted).toEqual([
      { repository: 'kiln', branch: 'x' },
      { repository: 'kiln', branch: 'main' },
    ])
    expect(queryByRole('dialog')).toBeNull()
  })

  test('a build that ended is wanted again; one that is wanted again says so', async () => {
    const asked: unknown[] = []
    let rows: WantedBuild[] = []
    const { findByRole, findByText, user } = show(<WantedOfBuild repository="kiln" number={7} isRunning={false} />, {
      answers: answers([], [], {
        listWantedBuilds: () => ({ rows, machines: [aMachine()] }),
        wantBuild: ({ body }) => {
          asked.push(body)
          rows = [aWanted({ number: 7, isAgain: true })]
          return aWanted({ number: 7, isAgain: true })
        },
      }),
    })
    await user.click(await findByRole('button', { name: 'Build it again' }))
    expect(await findByText('It is built again: waits for its turn.')).toBeTruthy()
    expect(asked).toEqual([{ again: 7 }])
  })
})

test('machines are told by name, whether they are here, and what they are at', async () => {
  const machines = [aMachine({ wantedId: 'w-1' }), aMachine({ name: 'bench-2', isHere: false, repositories: ['kiln'] })]
  const { findByText, getByRole } = show(<BuildMachines />, { answers: answers([aWanted({ number: 7, state: 'running' })], machines) })
  await findByText('bench-1')
  const text = getByRole('region', { name: 'Build machines' }).textContent
  expect(text).toMatch(/bench-1is herebuilds whatever is wanted, now .*7/)
  expect(text).toContain('bench-2is silentbuilds kiln')
})

describe('a build description', () => {
  const NONE: BuildDescription = {
    path: '.dystracer/build.yml',
    branch: 'main',
    sha: 'a'.repeat(40),
    text: null,
    problems: [],
    plan: null,
    starts: null,
    suggestion: {
      text: 'steps: [{ name: test, command: go test }]\n',
      found: [{ what: 'Go', by: 'go.mod' }],
      notes: ['Only whether all passed.'],
    },
  }
  const PLAN = {
    environment: {},
    passes: [],
    services: [],
    steps: [
      {
        name: 'test',
        command: 'go test',
        after: [],
        shards: 2,
        minutes: 30,
        environment: {},
        folder: '',
        reports: ['r.xml'],
        artefacts: [],
        isAlways: false,
      },
    ],
  }

  test('that is missing is suggested, shows what a machine would do, and is proposed as a change', async () => {
    const proposed: unknown[] = []
    const { findByRole, findByText, getByRole, user } = show(<BuildDescriptions />, {
      answers: answers([], [], {
        readBuildDescription: () => NONE,
        tryBuildDescription: ({ body }) =>
          body.text.includes('nam:')
            ? { problems: [{ line: 1, text: 'nam: is not known here' }], plan: null }
            : { problems: [], plan: PLAN },
        proposeBuildDescription: ({ body }) => {
          proposed.push(body)
          return { branch: 'build-description', number: 12 }
        },
      }),
    })
    await findByText('not described; it holds Go')
    await user.click(getByRole('button', { name: 'Describe it…' }))
    const dialog = await findByRole('dialog', { name: 'How kiln is built' })
    expect(dialog.textContent).toContain('Suggested by go.mod (Go). Only whether all passed.')
    const plan = await within(dialog).findByRole('list', { name: 'What a machine would do' })
    expect(plan.textContent).toBe('testat once, in 2 parts, 1 pattern of reports')
    await user.click(within(dialog).getByRole('button', { name: 'Propose the change' }))
    expect(proposed).toEqual([{ text: NONE.suggestion?.text }])
  })

  test('that cannot be followed says where, and one that can what starts it', async () => {
    const texts: BuildDescription[] = [
      { ...NONE, suggestion: null, text: 'x', problems: [{ line: 3, text: 'steps › 1: is none' }] },
      { ...NONE, suggestion: null, text: 'x', plan: PLAN, starts: { branches: ['main', 'release/*'], paths: [] } },
    ]
    const rows = ['one', 'two'].map((repository) => aRepository({ repository, mainBranch: 'main' }))
    const { findByText } = show(<BuildDescriptions />, {
      answers: answers([], [], {
        listRepositories: () => ({ rows }),
        readBuildDescription: ({ params }) => texts[params.repository === 'one' ? 0 : 1] ?? NONE,
      }),
    })
    await findByText('cannot be followed: line 3: steps › 1: is none')
    await findByText('1 step; a push to main, release/* starts it')
  })
})

import { afterEach, describe, expect, test } from '@jest/globals'
import type { Deployment, ReleaseBoard } from '@dystracer/core/releases/wire'
import { waitFor } from '@testing-library/react'
import { toast, Toaster } from 'sonner'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { ReleasesPane } from './ReleasesPane'

const AT_MS = 1_770_000_000_000
type Service = ReleaseBoard['services'][number]
const aRelease = (release: string, runsIn: string[] = []): Service['releases'][number] => ({
  service: 'kiln',
  release,
  repository: 'kiln',
  tag: `v${release}`,
  sha: 'a'.repeat(40),
  atMs: AT_MS,
  isRewritten: false,
  withdrawn: null,
  runsIn,
  fixes: 1,
})
const aDeployment = (given: Partial<Deployment> = {}): Deployment => ({
  deploymentId: 'd-1',
  service: 'kiln',
  release: '1.1.0',
  environment: 'production',
  state: 'asked',
  askedBy: 'person:rafe',
  approvedBy: null,
  atMs: AT_MS,
  runningAtMs: null,
  why: null,
  agreedBy: [],
  passedOver: null,
  gates: [
    { code: 'ran-in-staging', isMet: true, words: 'ran in staging' },
    { code: 'approved', isMet: false, words: 'nobody has approved it' },
  ],
  ...given,
})
const aBoard = (given: Partial<Service> = {}, hasDeployer = false): ReleaseBoard => ({
  hasDeployer,
  environments: [
    { environment: 'staging', kind: 'staging', needsApproval: false, position: 1 },
    { environment: 'production', kind: 'production', needsApproval: true, position: 2 },
  ],
  services: [
    {
      service: 'kiln',
      repository: 'kiln',
      releases: [aRelease('1.1.0'), aRelease('1.0.0', ['staging', 'production'])],
      deployments: [],
      runs: [],
      lastHeardAtMs: null,
      drift: [],
      ...given,
    },
  ],
})
const shown = (board: ReleaseBoard, given: Answers = {}) =>
  show(
    <>
      <ReleasesPane />
      <Toaster />
    </>,
    { at: '/releases', answers: { readMe: () => aMe(), readReleaseBoard: () => board, ...given } },
  )
// Messages outlive the page that said them.
afterEach(() => void toast.dismiss())

describe('without a deployer', () => {
  test('somebody says that a release runs, and since when; where approval is needed it can be asked for, too', async () => {
    const { user, findByRole, getByRole, getByLabelText, queryByRole, bodiesOf } = shown(aBoard(), { tellDeployment: () => aBoard() })
    await user.click(await findByRole('button', { name: 'Say it runs: kiln 1.1.0 in staging' }))
    expect(queryByRole('button', { name: 'Deploy kiln 1.1.0 to staging' })).toBeNull()
    getByRole('form', { name: 'kiln 1.1.0 runs in staging' })
    await user.clear(getByLabelText('Since'))
    await user.type(getByLabelText('Since'), '2026-11-21T21:30')
    await user.click(getByRole('button', { name: 'It runs there' }))
    await waitFor(() => expect(queryByRole('dialog')).toBeNull())
    expect(bodiesOf('tellDeployment')).toEqual([
      { service: 'kiln', release: '1.1.0', environment: 'staging', atMs: new Date('2026-11-21T21:30').getTime() },
    ])
    expect(queryByRole('button', { name: 'Ask to deploy kiln 1.1.0 to production' })).not.toBeNull()
  })

  test('a time that is yet to come is refused at its field, and the form stays', async () => {
    const { user, findByRole, getByRole, findByText } = shown(aBoard(), {
      tellDeployment: () => ({ refused: 'invalid-input', fields: { atMs: 'That is yet to come' } }),
    })
    await user.click(await findByRole('button', { name: 'Say it runs: kiln 1.1.0 in production' }))
    await user.click(getByRole('button', { name: 'It runs there' }))
    await findByText('That is yet to come')
    getByRole('form', { name: 'kiln 1.1.0 runs in production' })
  })

  test('what was said by mistake is taken back where it stands', async () => {
    const runs = aDeployment({
      deploymentId: 'told-1',
      release: '1.0.0',
      environment: 'staging',
      state: 'running',
      runningAtMs: AT_MS,
      gates: [],
    })
    const { user, findByRole, findByText, queryByRole, asked } = shown(aBoard({ deployments: [runs] }), {
      takeDeploymentBack: () => aBoard(),
    })
    await user.click(await findByRole('button', { name: 'Take back that kiln 1.0.0 runs in staging' }))
    await findByText('1.0.0 is said to run in staging no more')
    expect(asked.find((call) => call.name === 'takeDeploymentBack')?.params).toEqual({ id: 'told-1' })
    expect(queryByRole('button', { name: 'Take back that kiln 1.0.0 runs in production' })).toBeNull()
  })

  test('what was approved waits for whoever brings it there', async () => {
    const approved = aDeployment({
      state: 'approved',
      approvedBy: 'person:ines',
      gates: [{ code: 'approved', isMet: true, words: 'approved' }],
    })
    const { user, findByRole, queryByRole, getByRole } = shown(aBoard({ deployments: [approved] }))
    await user.click(await findByRole('button', { name: 'It runs there…' }))
    getByRole('form', { name: 'kiln 1.1.0 runs in production' })
    expect(queryByRole('button', { name: 'Approve 1.1.0 for production' })).toBeNull()
  })
})

describe('with a deployer', () => {
  test('a release is deployed, or asked for, by one click; what was approved is the deployer’s', async () => {
    const board = aBoard({ deployments: [aDeployment({ state: 'approved' })] }, true)
    const { user, findByRole, queryByRole, findByText, bodiesOf } = shown(board, { askDeployment: () => board })
    await user.click(await findByRole('button', { name: 'Deploy kiln 1.1.0 to staging' }))
    await findByText('1.1.0 goes to staging')
    await user.click(await findByRole('button', { name: 'Ask to deploy kiln 1.1.0 to production' }))
    await findByText('1.1.0 waits for an approval')
    expect(bodiesOf('askDeployment')).toEqual([
      { service: 'kiln', release: '1.1.0', environment: 'staging' },
      { service: 'kiln', release: '1.1.0', environment: 'production' },
    ])
    for (const name of [/^Say it runs/, 'It runs there…']) expect(queryByRole('button', { name })).toBeNull()
  })

  test('an approval is given where its conditions stand, and a refusal is said', async () => {
    let isRefused = true
    const { user, findByRole, findByText, getByText } = shown(aBoard({ deployments: [aDeployment()] }, true), {
      approveDeployment: () => (isRefused ? { refused: 'gate-closed', detail: 'It has not run in staging yet.' } : aBoard({}, true)),
    })
    const approve = await findByRole('button', { name: 'Approve 1.1.0 for production' })
    getByText('ran in staging')
    getByText('nobody has approved it')
    await user.click(approve)
    await findByText('It has not run in staging yet.')
    isRefused = false
    await user.click(approve)
    await findByText('1.1.0 goes to production')
  })
})

test('where programs say that they are another release stands with what was told, and can be told from there', async () => {
  const drift: Service['drift'] = [
    { environment: 'production', release: '1.0.0', lastAtMs: AT_MS, told: '1.1.0', isPartly: true },
    { environment: 'staging', release: '0.9.0', lastAtMs: AT_MS, told: null, isPartly: false },
  ]
  const { user, findByRole, findByText, getByRole, queryByRole, getByText } = shown(aBoard({ drift }))
  await findByText(/1\.1\.0 was brought there and is heard, too/)
  getByText(/nobody told of a deployment there/)
  // A release that is not known here cannot be told to run.
  expect(queryByRole('button', { name: '0.9.0 runs there…' })).toBeNull()
  await user.click(await findByRole('button', { name: '1.0.0 runs there…' }))
  getByRole('form', { name: 'kiln 1.0.0 runs in production' })
})

describe('a deployment that waits for gates of its place', () => {
  const waiting = (given: Partial<Deployment>) => aBoard({ deployments: [aDeployment(given)] }, true)

  test('shows each with what is missing; a check is ticked, and the way past them is there for who may', async () => {
    const { user, findByText, findByRole, bodiesOf } = shown(
      waiting({
        gates: [
          { code: 'soak', isMet: false, words: 'ran 5 of 24 h in staging' },
          { code: 'check', isMet: false, words: 'the limiter opens' },
          { code: 'approved', isMet: false, words: 'nobody has approved it' },
        ],
      }),
      { checkDeployment: () => aBoard() },
    )
    await findByText('ran 5 of 24 h in staging')
    await findByRole('button', { name: 'let it out all the same…' })
    await user.click(await findByRole('checkbox', { name: 'the limiter opens' }))
    await waitFor(() => expect(bodiesOf('checkDeployment')).toEqual([{ words: 'the limiter opens', isOn: true }]))
  })

  test('says that one agreed while others are missing, and lets that be taken back', async () => {
    const agreed = { code: 'agreed', isMet: false, words: '1 of 2 agreed' }
    const first = shown(waiting({ gates: [agreed] }), { approveDeployment: () => aBoard() })
    await first.user.click(await first.findByRole('button', { name: 'Approve 1.1.0 for production' }))
    await first.findByText('You agreed that 1.1.0 goes to production')
    first.unmount()
    const { user, findByRole, bodiesOf, queryByRole } = shown(waiting({ gates: [agreed], agreedBy: ['ines'] }), {
      takeAgreementBack: () => aBoard(),
    })
    await user.click(await findByRole('button', { name: 'take back that I agreed' }))
    await waitFor(() => expect(bodiesOf('takeAgreementBack')).toHaveLength(1))
    expect(queryByRole('button', { name: 'Approve 1.1.0 for production' })).toBeNull()
  })

  test('that went out all the same says why, and who let it', async () => {
    const { findByText } = shown(
      aBoard({
        deployments: [
          aDeployment({
            state: 'approved',
            gates: [],
            passedOver: { why: 'a kiln burns', by: 'person:ines', unmet: ['nobody has approved it'] },
          }),
        ],
      }),
    )
    await findByText(/let out by .* past “nobody has approved it”: a kiln burns/)
  })
})

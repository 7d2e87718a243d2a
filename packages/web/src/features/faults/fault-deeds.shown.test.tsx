import { afterEach, describe, expect, test } from '@jest/globals'
import type { Fault, FaultAct, FaultDetail, LikeFault } from '@dystracer/core/faults/wire'
import { waitFor } from '@testing-library/react'
import { toast, Toaster } from 'sonner'
import { aMe, aSetup } from '#shared/test/a-me'
import { aDetail as anItemInFull, anItem } from '#shared/test/an-item'
import { aRequirement } from '#shared/test/a-requirement'
import { show, type Answers } from '#shared/test/shown'
import { ChosenFaults, FaultDeeds } from './FaultDeeds'
import { Alike, WhyOne } from './FaultGrouping'

const AT_MS = 1_770_000_000_000
const aFault = (given: Partial<Fault> = {}): Fault => ({
  fault: 'F-3',
  type: 'TypeError',
  message: 'no probe',
  place: 'readCelsius@src/probe.js',
  service: 'kiln',
  repository: 'kiln',
  firstSeenAtMs: AT_MS,
  lastSeenAtMs: AT_MS,
  occurrences: 12,
  peopleHit: 4,
  releases: ['1.1.0'],
  environments: ['production'],
  item: null,
  recent: [],
  state: 'new',
  ownerId: null,
  silence: null,
  judgement: null,
  spike: null,
  ...given,
})
const wren = aMe({ person: { personId: 'wren', name: 'Wren Abara', initials: 'WA', role: 'reader' } })
const done = (faults: readonly string[]) => ({ done: [...faults], refused: [], seqs: [41] })
const answers = (given: Answers = {}): Answers => ({
  readMe: () => aMe(),
  actOnFaults: ({ body }) => done(body.faults),
  findLookAlikes: () => ({ rows: [] }),
  ...given,
})
const shown = (fault: Fault, given: Answers = {}) =>
  show(
    <>
      <FaultDeeds fault={fault} />
      <Toaster />
    </>,
    { answers: answers(given), at: '/fault~F-3' },
  )
// Messages outlive the page that said them.
afterEach(() => void toast.dismiss())
const actsOf = (bodies: unknown[]) => (bodies as { act: FaultAct }[]).map((body) => body.act)

describe('a fault', () => {
  test('that no item stands for is logged by one click, and the item opens beside it', async () => {
    const { user, findByRole, address, getByText } = shown(aFault(), { logFault: () => ({ key: 'EMB-20' }) })
    getByText('First seen within the last day.')
    await user.click(await findByRole('button', { name: 'Log a defect for it' }))
    await waitFor(() => expect(address()).toContain('item~EMB-20'))
  })

  test('is filled in before it is logged: as far as it tells, put right by a person, and then it stands for the fault', async () => {
    const acts: unknown[] = []
    const logged: unknown[] = []
    const { user, findByRole, findByLabelText, findByText, address } = shown(aFault(), {
      listRequirements: () => ({ rows: [aRequirement({ key: 'SAF-3', title: 'Sensor faults' })] }),
      readSetup: () => aSetup(),
      proposeFaultItem: ({ params }) => {
        expect(params).toEqual({ fault: 'F-3' })
        return {
          project: 'EMB',
          title: 'No probe, in readCelsius',
          description: '**Steps**',
          component: null,
          foundIn: 'kiln@1.1.0',
          severity: 2,
          requirement: { key: 'SAF-3', why: 'the line that failed was written for EMB-2, which it asked for' },
        }
      },
      logItem: ({ body }) => {
        logged.push(body)
        return anItemInFull({ key: 'EMB-21' })
      },
      actOnFaults: ({ body }) => {
        acts.push(body)
        return done(body.faults)
      },
    })
    await user.click(await findByRole('button', { name: 'Fill it in first…' }))
    const title = await findByLabelText('Title')
    expect((title as HTMLInputElement).value).toBe('No probe, in readCelsius')
    await findByText('Proposed: the line that failed was written for EMB-2, which it asked for.')
    await user.type(title, ' of kiln 2')
    await user.click(await findByRole('button', { name: /^Log it/ }))
    await waitFor(() => expect(address()).toContain('item~EMB-21'))
    expect(logged).toMatchObject([
      { title: 'No probe, in readCelsius of kiln 2', description: '**Steps**', severity: 2, foundIn: 'kiln@1.1.0', requirement: 'SAF-3' },
    ])
    expect(acts).toEqual([{ faults: ['F-3'], act: { act: 'tie', key: 'EMB-21' } }])
  })

  test('names the item that stands for it, and is untied', async () => {
    const { user, findByRole, getByText, bodiesOf } = shown(aFault({ item: anItem({ key: 'EMB-7', title: 'Probe answers nothing' }) }))
    getByText('Probe answers nothing')
    await user.click(await findByRole('button', { name: 'untie' }))
    expect(bodiesOf('actOnFaults')).toEqual([{ faults: ['F-3'], act: { act: 'untie', key: 'EMB-7' } }])
  })

  test('is given to somebody, and the message offers to take that back', async () => {
    const { user, getByLabelText, findByRole, bodiesOf } = shown(aFault())
    await findByRole('option', { name: 'Rafe Lindqvist' })
    await user.selectOptions(getByLabelText('Who has it'), 'rafe')
    await waitFor(() => expect(actsOf(bodiesOf('actOnFaults'))).toEqual([{ act: 'assign', ownerId: 'rafe' }]))
    await findByRole('button', { name: 'Take back' })
  })

  test('is silenced until whatever comes first of what is said', async () => {
    const { user, findByRole, getByLabelText, getByRole, bodiesOf, queryByRole } = shown(aFault())
    await user.click(await findByRole('button', { name: 'Silence…' }))
    await user.selectOptions(getByLabelText('After'), 'day')
    await user.type(getByLabelText('Once it occurred so many times more'), '50')
    await user.type(getByLabelText(/Once this release/), '1.2.0')
    await user.click(getByLabelText('once it spikes'))
    await user.type(getByLabelText('Why'), 'known at the studio')
    await user.click(getByRole('button', { name: 'Silence' }))
    await waitFor(() => expect(queryByRole('dialog')).toBeNull())
    expect(actsOf(bodiesOf('actOnFaults'))).toEqual([
      { act: 'silence', forMinutes: 1440, moreTimes: 50, release: '1.2.0', untilSpike: true, reason: 'known at the studio' },
    ])
  })

  test('that is silenced says until when and why, and is heard again', async () => {
    const silence = { sinceMs: AT_MS, sinceCount: 12, untilMs: null, moreTimes: 50, release: null, untilSpike: true, reason: 'known' }
    const { user, findByRole, getByText, queryByRole, bodiesOf } = shown(aFault({ state: 'silenced', silence }))
    getByText('Silenced until it occurred 50 times more, or until it spikes: known')
    expect(queryByRole('button', { name: 'Silence…' })).toBeNull()
    await user.click(await findByRole('button', { name: 'Let it be heard again' }))
    expect(actsOf(bodiesOf('actOnFaults'))).toEqual([{ act: 'hear' }])
  })

  test('is said to be fixed in a release, which is needed; or not ours, with the reason', async () => {
    const { user, findByRole, getByLabelText, getByRole, bodiesOf } = shown(aFault())
    await user.click(await findByRole('button', { name: 'Fixed in…' }))
    await user.click(getByRole('button', { name: 'It is fixed there' }))
    expect(bodiesOf('actOnFaults')).toEqual([])
    await user.type(getByLabelText(/^Release/), '1.2.0')
    await user.click(getByRole('button', { name: 'It is fixed there' }))
    await user.click(await findByRole('button', { name: 'Not ours…' }))
    await user.type(getByLabelText(/^Why/), 'the relay board’s')
    await user.click(getByRole('button', { name: 'It is not ours' }))
    await waitFor(() =>
      expect(actsOf(bodiesOf('actOnFaults'))).toEqual([
        { act: 'fixed', release: '1.2.0', reason: '' },
        { act: 'not-ours', reason: 'the relay board’s' },
      ]),
    )
  })

  test('that cannot be silenced says why, and the form keeps what was written', async () => {
    const { user, findByRole, findByText, getByLabelText, getByRole } = shown(aFault(), {
      actOnFaults: () => ({ done: [], refused: [{ fault: 'F-3', why: 'It went into F-2.' }], seqs: [] }),
    })
    await user.click(await findByRole('button', { name: 'Silence…' }))
    await user.type(getByLabelText('Why'), 'known')
    await user.click(getByRole('button', { name: 'Silence' }))
    await findByText('F-3: It went into F-2.')
    expect((getByLabelText('Why') as HTMLInputElement).value).toBe('known')
  })

  test('is tied to an item that looks like it, or to one that is found by its words', async () => {
    const { user, findByRole, getByLabelText, findByText, asked, bodiesOf } = shown(aFault(), {
      findLookAlikes: () => ({
        rows: [
          {
            item: anItem({ key: 'EMB-5', title: 'Probe is lost' }),
            sharedWords: ['probe'],
            relatedWords: [],
            otherWords: [],
            requirement: null,
          },
        ],
      }),
      search: () => ({
        hits: [
          { ref: { kind: 'item', id: 'EMB-6' }, title: 'Panel stays dark', detail: '', stair: null, found: null },
          { ref: { kind: 'fault', id: 'F-9' }, title: 'Another', detail: '', stair: null, found: null },
        ],
      }),
    })
    await user.click(await findByRole('button', { name: 'Tie…' }))
    await findByText('Probe is lost')
    await user.type(getByLabelText('Key or words'), 'panel')
    await user.click(await findByRole('button', { name: /EMB-6/ }))
    expect(asked.find((call) => call.name === 'search')?.query).toMatchObject({ q: 'panel' })
    expect(actsOf(bodiesOf('actOnFaults'))).toEqual([{ act: 'tie', key: 'EMB-6' }])
  })

  test('is only read by whoever may not sort faults', async () => {
    const { findByText, queryByRole } = shown(aFault(), { readMe: () => wren })
    await findByText(/Your role may read it/)
    expect(queryByRole('button')).toBeNull()
  })
})

test('several faults are given away and set aside at once; those that cannot be are named', async () => {
  const refused = [{ fault: 'F-4', why: 'It went into F-2.' }]
  const { user, findByRole, findByText, getByRole, getByLabelText, bodiesOf } = show(
    <>
      <ChosenFaults chosen={[aFault(), aFault({ fault: 'F-4' })]} onNone={() => {}} />
      <Toaster />
    </>,
    { answers: answers({ actOnFaults: () => ({ done: ['F-3'], refused, seqs: [7] }) }) },
  )
  await findByRole('option', { name: 'Rafe Lindqvist' })
  await user.selectOptions(getByLabelText('Give them to'), 'rafe')
  await findByText('F-4: It went into F-2.')
  await user.click(getByRole('button', { name: 'Not ours…' }))
  await user.type(getByLabelText(/^Why/), 'a test rig')
  await user.click(getByRole('button', { name: 'It is not ours' }))
  await waitFor(() => expect(bodiesOf('actOnFaults')).toHaveLength(2))
  expect(bodiesOf('actOnFaults')[1]).toEqual({ faults: ['F-3', 'F-4'], act: { act: 'not-ours', reason: 'a test rig' } })
})

const aDetail = (given: Partial<FaultDetail> = {}): FaultDetail => ({
  ...aFault(),
  maskedMessage: 'no probe <number>',
  reason: { basis: 'app-frame', frame: 'readCelsius@src/probe.js', maskedValues: 1 },
  sites: [
    { release: '1.0.0', line: 4 },
    { release: '1.1.0', line: 7 },
  ],
  causes: [
    { type: 'Error', message: 'no reading', frames: 3, isDecisive: false },
    { type: 'TypeError', message: 'no probe', frames: 2, isDecisive: true },
  ],
  mergedFaults: [
    { fault: 'F-8', canTakeBack: true },
    { fault: 'F-9', canTakeBack: false },
  ],
  leftOut: 3,
  stacktrace: '',
  frames: [],
  byMinute: [],
  byRelease: [],
  ...given,
})

describe('why occurrences are one fault', () => {
  test('is said with what decided, where it fails release by release, and what went into it', async () => {
    const { findByRole, container, queryByRole } = show(<WhyOne fault={aDetail()} />, { answers: { readMe: () => aMe() } })
    await findByRole('button', { name: 'Take out again: F-8' })
    expect(queryByRole('button', { name: 'Take out again: F-9' })).toBeNull()
    for (const words of [
      'Of 2 exceptions that caused one another, TypeError decides',
      'The same statement of yours, in readCelsius@src/probe.js',
      'line 4 of 1.0.0, line 7 of 1.1.0',
      '1 value in it may differ',
      '3 occurrences of bursts were counted',
    ])
      expect(container.textContent).toContain(words)
  })

  test('is changed by a merge into another one, named in whatever case, and taken back', async () => {
    const { user, findByLabelText, getByRole, bodiesOf, asked, address } = show(<WhyOne fault={aDetail()} />, {
      at: '/fault~F-3',
      answers: { readMe: () => aMe(), mergeFault: () => aDetail({ fault: 'F-2' }), unmergeFault: () => aDetail({ fault: 'F-8' }) },
    })
    const into = await findByLabelText('The fault that it goes into')
    const merge = getByRole('button', { name: 'Merge, now and always' }) as HTMLButtonElement
    await user.type(into, 'F')
    expect(merge.disabled).toBe(true)
    await user.type(into, '{Backspace}f-2')
    await user.click(merge)
    await waitFor(() => expect(address()).toBe('/fault~F-2'))
    expect(bodiesOf('mergeFault')).toEqual([{ into: 'F-2' }])
    await user.click(getByRole('button', { name: 'Take out again: F-8' }))
    await waitFor(() => expect(asked.some((call) => call.name === 'unmergeFault' && call.params.fault === 'F-8')).toBe(true))
  })

  test('is asked of faults that resemble it, stack beside stack', async () => {
    const frame = (name: string, isApp = true) => ({
      function: name,
      file: `/srv/src/${name}.js`,
      line: 4,
      column: 1,
      isApp,
      isAsync: false,
    })
    const row: LikeFault = {
      fault: 'F-5',
      type: 'TypeError',
      message: 'no reading',
      place: null,
      score01: 0.7,
      pairs: [
        { left: frame('read'), right: frame('read') },
        { left: frame('draw'), right: null },
      ],
    }
    const { user, findByText, getByRole, container, bodiesOf } = show(<Alike fault="F-3" />, {
      answers: { readMe: () => aMe(), listAlikeFaults: () => ({ rows: [row] }), mergeFault: () => aDetail({ fault: 'F-5' }) },
    })
    await user.click(await findByText('1 frame in common'))
    expect(container.textContent).toContain('read read.js:4')
    await user.click(getByRole('button', { name: 'They are one: merge into F-5' }))
    expect(bodiesOf('mergeFault')).toEqual([{ into: 'F-5' }])
  })
})

import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { guessMapping } from './guess-mapping.js'
import { INVITE, type ImportMapping } from './import-fields.js'
import { ImportPlanner } from './import-plan.js'
import { addressIn, readSeverity } from './read-cells.js'
import { dayOrderOf, readDay } from './read-day.js'
import { readOwnValue } from './read-own-value.js'
import type { OwnField } from '#setup/own-field'
import { meaningOfStatus, STATUS_MEANINGS } from './status-words.js'

const world = {
  types: ['defect', 'story', 'task'],
  ownFields: [],
  components: ['Kiln control'],
  personOf: (text: string) => (text.toLowerCase().includes('ines') ? 'ines' : null),
  nowMs: Date.parse('2026-11-24'),
  toText: (html: string) => html.replace(/<br>/g, '\n').replace(/<[^>]+>/g, ''),
}
const MAPPING: ImportMapping = {
  Id: 'id',
  Summary: 'title',
  Text: 'description',
  Type: 'type',
  Severity: 'severity',
  Who: 'owner',
  Area: 'component',
  Tags: 'labels',
  Due: 'due',
  Parent: 'parent',
  State: 'status',
  Files: 'links',
  Points: 'points',
}
const planner = (days: string[] = []) => new ImportPlanner({ mapping: MAPPING, world, days })

describe('days', () => {
  test.each([
    ['2026-12-01', '2026-12-01'],
    ['2026-12-01T10:00:00Z', '2026-12-01'],
    ['2026/2/3', '2026-02-03'],
    ['1.12.2026', '2026-12-01'],
    ['1/12/2026', '2026-12-01'],
    ['1 Dec 2026', '2026-12-01'],
    ['December 1st, 2026', '2026-12-01'],
    ['31/12/2026', '2026-12-31'],
    ['12/31/2026', '2026-12-31'],
    ['30.2.2026', null],
    ['soon', null],
    ['', null],
  ])('%s is %s', (text, day) => expect(readDay(text, 'unclear')).toBe(day))

  test('one day above 12 says how a column is read', () => {
    expect(dayOrderOf(['1/2/2026', '2/13/2026'])).toBe('month-first')
    expect(readDay('1/2/2026', dayOrderOf(['1/2/2026', '2/13/2026']))).toBe('2026-01-02')
    expect(dayOrderOf(['1/2/2026', '13/2/2026'])).toBe('day-first')
    expect(dayOrderOf(['14/2/2026', '2/13/2026'])).toBe('mixed')
    expect(dayOrderOf(['1/2/2026', '1.2.2026'])).toBe('unclear')
  })

  test('a day that is written in any form is read back', () => {
    const day = fc
      .date({ min: new Date('1990-01-01'), max: new Date('2100-01-01'), noInvalidDate: true })
      .map((date) => date.toISOString().slice(0, 10))
    fc.assert(
      fc.property(day, (iso) => {
        const [year, month, date] = iso.split('-').map(Number) as [number, number, number]
        expect(readDay(`${date}.${month}.${year}`, 'month-first')).toBe(iso)
        expect(readDay(`${date}/${month}/${year}`, 'day-first')).toBe(iso)
        expect(readDay(`${month}/${date}/${year}`, 'month-first')).toBe(iso)
      }),
    )
  })
})

test('columns are known by the names that such files bear, each field once', () => {
  expect(guessMapping(['Issue ID', 'Summary', 'Description', 'Assigned to', 'Due date', 'Tags', 'Mood', 'Title'])).toEqual({
    'Issue ID': 'id',
    Summary: 'title',
    Description: 'description',
    'Assigned to': 'owner',
    'Due date': 'due',
    Tags: 'labels',
  })
})

test.each([
  ['1', 1],
  ['S2', 2],
  ['P3 - normal', 3],
  ['Blocker', 1],
  ['minor', 4],
  ['cosmetic', 5],
  ['purple', null],
])('severity “%s” is %s', (text, severity) => expect(readSeverity(text)).toBe(severity))

describe('a row', () => {
  test('becomes an item with all that it says', () => {
    const { planned, problems } = planner().plan(
      {
        Id: '\uFEFF17',
        Summary: 'Relay  sticks',
        Text: '<p>Heard it<br>click</p>',
        Type: 'Bug',
        Severity: 'high',
        Who: 'ines@emberwick.example',
        Area: 'kiln control',
        Tags: 'a; b, a',
        Due: '3.4.2026',
        Parent: '9',
        State: 'Open',
        Files: 'https://x.example/a.png; javascript:alert(1)',
        Points: '2,5',
      },
      2,
    )
    expect(problems).toEqual([])
    expect(planned).toMatchObject({
      id: '17',
      parentId: '9',
      item: {
        title: 'Relay  sticks',
        description: 'Heard it\nclick\n\n- <https://x.example/a.png>',
        type: 'defect',
        severity: 2,
        ownerId: 'ines',
        component: 'Kiln control',
        labels: ['a', 'b'],
        dueOn: '2026-04-03',
        points: 2.5,
      },
    })
  })

  test('is imported without what it says wrongly, each wrong thing named with its place', () => {
    const { planned, problems } = planner().plan(
      { Summary: 'x'.repeat(300), Severity: 'purple', Who: 'Nobody Known', Area: 'Cellar', Due: 'soon', Points: 'many' },
      5,
    )
    expect(problems.map((problem) => [problem.row, problem.column, problem.code])).toEqual([
      [5, 'Summary', 'title-cut'],
      [5, 'Who', 'unknown-person'],
      [5, 'Area', 'unknown-component'],
      [5, 'Severity', 'wrong-severity'],
      [5, 'Due', 'wrong-day'],
      [5, 'Points', 'wrong-number'],
    ])
    expect(planned?.item).toMatchObject({ severity: null, ownerId: null, component: null, dueOn: null, points: null })
  })

  test('without a title takes the first line of its text; with neither, or with an id that was there, it is left out', () => {
    const one = planner()
    expect(one.plan({ Text: 'First line\nSecond' }, 2).planned?.item.title).toBe('First line')
    expect(one.plan({ Text: ' ' }, 3)).toMatchObject({ planned: null, problems: [{ code: 'no-title' }] })
    expect(one.plan({ Id: '1', Summary: 'a' }, 4).planned).not.toBeNull()
    expect(one.plan({ Id: '1', Summary: 'b' }, 5)).toMatchObject({ planned: null, problems: [{ code: 'doubled-id', value: '1' }] })
  })

  test('brings along where it stood, who said what when, what was worked, and what it hangs on', () => {
    const mapping: ImportMapping = {
      Summary: 'title',
      State: 'status',
      Resolution: 'resolution',
      By: 'reporter',
      Created: 'created',
      'Estimate (hours)': 'estimate',
      spentMinutes: 'spent',
      Talk: 'comments',
      Blocks: 'blocks',
      Same: 'same as',
      Needs: 'requirements',
    }
    const one = () => new ImportPlanner({ mapping, world })
    const { planned, problems } = one().plan(
      {
        Summary: 'Relay sticks',
        State: 'Closed',
        Resolution: 'Fixed',
        By: 'Somebody Else',
        Created: '2025-03-01T09:30:00Z',
        'Estimate (hours)': '1,5',
        spentMinutes: '95',
        Talk: '[{"text":"Heard it","by":"Mara","at":"2025-03-02"},"again", {"text":" "}]',
        Blocks: '12; 13',
        Same: '9',
        Needs: 'SAF-3',
      },
      2,
    )
    expect(problems.map(({ code }) => code)).toEqual(['unknown-reporter'])
    expect(planned).toMatchObject({
      baseline: { stage: 'verified', words: 'Closed, Fixed' },
      rejected: null,
      reporterId: null,
      reporterName: 'Somebody Else',
      createdAtMs: Date.parse('2025-03-01T09:30:00Z'),
      spentMinutes: 95,
      item: { description: '', estimateMinutes: 90 },
      comments: [
        { text: 'Heard it', by: 'Mara', atMs: Date.parse('2025-03-02') },
        { text: 'again', by: null, atMs: null },
      ],
      ties: [
        { kind: 'blocks', to: '12' },
        { kind: 'blocks', to: '13' },
        { kind: 'same as', to: '9' },
        { kind: 'requirements', to: 'SAF-3' },
      ],
    })
    const later = one().plan({ Summary: 'a', State: 'Closed', Resolution: "Won't Fix", Created: '2031-01-01', spentMinutes: 'long' }, 3)
    expect(later.planned).toMatchObject({ rejected: { disposition: 'will-not-fix' }, createdAtMs: null, spentMinutes: null })
    expect(later.problems.map(({ code }) => code)).toEqual(['wrong-time', 'wrong-duration'])
    const kept = one().plan({ Summary: 'a', State: 'Purple' }, 4)
    expect(kept).toMatchObject({ planned: { baseline: null, item: { description: 'Imported with the status “Purple”.' } } })
    expect(kept.problems.map(({ code }) => code)).toEqual(['unknown-status'])
  })

  test('says which labels it could not take whole', () => {
    const { planned, problems } = planner().plan({ Summary: 'a', Tags: [...Array(22).keys()].map((at) => `l${at}`).join(',') }, 2)
    expect(planned?.item.labels).toHaveLength(20)
    expect(problems).toEqual([{ row: 2, column: 'Tags', code: 'labels-cut', value: 'l20, l21' }])
    const long = planner().plan({ Summary: 'a', Tags: 'x'.repeat(50) }, 3)
    expect(long.problems.map(({ code }) => code)).toEqual(['labels-cut'])
  })

  test.each([
    ['New', 'logged'],
    ['To Do', 'logged'],
    ['Triaged', 'accepted'],
    ['IN_PROGRESS', 'underway'],
    ['In Review', 'in-review'],
    ['Resolved', 'merged'],
    ['Deployed', 'released'],
    ['Done', 'verified'],
    ['Not fixed', 'will-not-fix'],
    ['Works for me', 'cannot-reproduce'],
    ['Not a bug', 'works-as-required'],
    ['Duplicate', 'duplicate'],
    ['Postponed', 'deferred'],
    ['Purple', null],
  ])('that stood as “%s” stands for %s', (text, meaning) => {
    expect(meaningOfStatus(text)).toBe(meaning)
    for (const own of STATUS_MEANINGS) expect(meaningOfStatus(own)).toBe(own)
  })

  test('never fails, whatever stands in it', () => {
    fc.assert(
      fc.property(fc.record(Object.fromEntries(Object.keys(MAPPING).map((column) => [column, fc.anything()]))), (cells) => {
        const { planned } = planner().plan(cells, 1)
        if (planned) {
          expect(planned.item.title.length).toBeGreaterThan(0)
          expect(planned.item.title.length).toBeLessThanOrEqual(200)
        }
      }),
    )
  })
})

describe('words', () => {
  test('of the file are gathered with how often they stand and what they become; what is said for one holds', () => {
    const one = new ImportPlanner({
      mapping: { Title: 'title', Sev: 'severity', Who: 'owner', Area: 'component', Prio: 'priority' },
      world: {
        types: ['defect'],
        ownFields: [],
        components: ['Kiln control'],
        personOf: (text) => (text === 'Ines' ? 'ines' : null),
        toText: (html) => html,
        nowMs: Date.parse('2026-11-24'),
      },
      values: { owner: { 'New One <new@x.example>': INVITE, 'Nobody Known': 'rafe' }, component: { Cellar: '' }, severity: { awful: '1' } },
    })
    const plans = [
      { Title: 'a', Sev: 'awful', Who: 'Nobody Known', Area: 'Cellar', Prio: 'ASAP' },
      { Title: 'b', Sev: 'S2', Who: 'New One <new@x.example>', Area: 'kiln CONTROL', Prio: 'p3' },
      { Title: 'c', Sev: 'awful', Who: 'Stranger', Area: '', Prio: 'whenever' },
    ].map((cells, at) => one.plan(cells, at + 2))
    expect(
      plans.map(({ planned }) => [planned?.item.severity, planned?.item.ownerId, planned?.item.component, planned?.item.priority]),
    ).toEqual([
      [1, 'rafe', null, 'urgent'],
      [2, null, 'Kiln control', 'normal'],
      [1, null, null, null],
    ])
    expect(plans.flatMap(({ problems }) => problems.map((problem) => problem.code))).toEqual(['unknown-person', 'unknown-priority'])
    expect(one.valuesSeen().filter((word) => word.field === 'severity')).toEqual([
      { field: 'severity', text: 'awful', count: 2, becomes: '1', isUnknown: false },
      { field: 'severity', text: 'S2', count: 1, becomes: '2', isUnknown: false },
    ])
    expect(one.valuesSeen().find((word) => word.text === 'Stranger')).toMatchObject({ becomes: null, isUnknown: true })
  })

  test.each([
    ['Rafe Varga <Rafe@Emberwick.example>', { name: 'Rafe Varga', email: 'rafe@emberwick.example' }],
    ['rafe.varga@emberwick.example', { name: 'Rafe Varga', email: 'rafe.varga@emberwick.example' }],
    ['Rafe Varga', null],
    ['a@b', null],
  ])('that name a person by address are read: %s', (text, address) => {
    expect(addressIn(text)).toEqual(address)
  })
})

describe('the project’s own fields', () => {
  const reading = { dayOf: (text: string) => readDay(text, 'unclear'), personOf: (text: string) => (text === 'Ines' ? 'ines' : null) }
  const read = (kind: OwnField['kind'], cell: unknown, choices: string[] = []) => readOwnValue({ kind, choices }, cell, reading)

  test.each([
    ['text', 'as it stands', [], 'as it stands'],
    ['number', '3,5', [], 3.5],
    ['number', 12, [], 12],
    ['number', 'many', [], undefined],
    ['date', '24.11.2026', [], '2026-11-24'],
    ['date', 'soon', [], undefined],
    ['one-of', 'DOOR', ['door', 'lid'], 'door'],
    ['one-of', 'roof', ['door', 'lid'], undefined],
    ['several-of', 'Lid; door, lid', ['door', 'lid'], ['lid', 'door']],
    ['several-of', ['lid'], ['door', 'lid'], ['lid']],
    ['several-of', '["door","lid"]', ['door', 'lid'], ['door', 'lid']],
    ['several-of', 'back, left', ['back, left', 'door'], ['back, left']],
    ['several-of', 'door, roof', ['door', 'lid'], undefined],
    ['person', 'Ines', [], 'ines'],
    ['person', 'Nobody', [], undefined],
    ['link', 'https://emberwick.example/kiln', [], 'https://emberwick.example/kiln'],
    ['link', 'javascript:alert(1)', [], undefined],
    ['text', '', [], null],
    ['several-of', null, ['door'], null],
  ] as const)('%s of %j is read by its choices', (kind, cell, choices, value) => expect(read(kind, cell, [...choices])).toEqual(value))

  test('are known by their place in an export and by their name, before anything is guessed', () => {
    const fields = [
      { fieldId: 'zone', name: 'Zone' },
      { fieldId: 'type-of-clay', name: 'Type' },
    ]
    expect(guessMapping(['own.zone', 'Type', 'Summary'], fields)).toEqual({
      'own.zone': 'own.zone',
      Type: 'own.type-of-clay',
      Summary: 'title',
    })
  })

  test('bring what a row says to its item, and say what they cannot hold', () => {
    const ownFields: OwnField[] = [
      { fieldId: 'amps', name: 'Amps', kind: 'number', choices: [], types: [], colour: null, position: 0 },
      { fieldId: 'zone', name: 'Zone', kind: 'one-of', choices: ['door'], types: [], colour: null, position: 1 },
    ]
    const mapping = { Title: 'title', Amps: 'own.amps', Zone: 'own.zone', Gone: 'own.gone' } as const
    const { planned, problems } = new ImportPlanner({ mapping, world: { ...world, ownFields } }).plan(
      { Title: 'Relay', Amps: '12', Zone: 'roof', Gone: 'x' },
      2,
    )
    expect(planned?.item.ownValues).toEqual({ amps: 12 })
    expect(planned?.said).toEqual(['title', 'own.amps'])
    expect(problems).toEqual([{ row: 2, column: 'Zone', code: 'wrong-own-value', value: 'roof' }])
  })
})

test('addresses of files are gathered once each; what is none is said', () => {
  const mapping = { Title: 'title', Files: 'attachments', More: 'attachments' } as const
  const { planned, problems } = new ImportPlanner({ mapping, world }).plan(
    { Title: 'Relay', Files: 'https://a.example/1.png, https://a.example/1.png; file:///etc/passwd', More: ['http://b.example/2'] },
    2,
  )
  expect(planned?.attachments).toEqual(['https://a.example/1.png', 'http://b.example/2'])
  expect(problems).toEqual([{ row: 2, column: 'Files', code: 'no-address', value: 'file:///etc/passwd' }])
})

import { describe, expect, test } from '@jest/globals'
import { zIntakeRule } from '@dystracer/core/faults/intake-wire'
import fc from 'fast-check'
import { freeId, NEW_RULE, toForm, toRule } from './rule-form'
import { ruleWords, windowWords } from './rule-words'

const word = fc.stringMatching(/^[a-z][a-z0-9-]{0,12}$/)
const rules = fc.record({
  name: word,
  environmentKind: fc.constantFrom('production' as const, 'any' as const),
  severityAtLeast: fc.constantFrom('warn' as const, 'error' as const, 'fatal' as const),
  countAtLeast: fc.integer({ min: 1, max: 1000 }),
  windowMinutes: fc.integer({ min: 1, max: 43_200 }),
  peopleAtLeast: fc.integer({ min: 0, max: 1000 }),
  where: fc.constantFrom('', 'new', 'service=tally not spike'),
  deed: fc.record({
    act: fc.constantFrom('log' as const, 'raise' as const, 'remark' as const, 'reopen' as const, 'silence' as const, 'tell' as const),
    type: word,
    labels: fc.array(word, { maxLength: 3 }),
    severity: fc.constantFrom(null, 1 as const, 3 as const, 5 as const),
    ownerId: fc.option(word),
    component: fc.option(word),
    milestone: fc.option(word),
    isAccepted: fc.boolean(),
    tiesAlike: fc.boolean(),
    tellIds: fc.array(word, { maxLength: 3 }),
    remark: fc.constantFrom('', 'Again'),
    text: fc.constantFrom('', 'In {service}: {message}'),
  }),
  perHour: fc.option(fc.integer({ min: 1, max: 100 })),
  perDay: fc.option(fc.integer({ min: 1, max: 100 })),
  goesOn: fc.boolean(),
  isDraft: fc.boolean(),
})

describe('a rule in the controls of its sentence', () => {
  test('comes back as it was, whatever it asks and does', () => {
    fc.assert(fc.property(rules, (rule) => expect(toRule(toForm(rule), rule.isDraft)).toEqual(rule)))
  })

  test('a new one lacks nothing but its name', () => {
    expect(zIntakeRule.safeParse(toRule({ ...toForm(NEW_RULE), name: 'named' }, false)).success).toBe(true)
    expect(zIntakeRule.safeParse(toRule(toForm(NEW_RULE), false)).error?.issues.map(({ path }) => path)).toEqual([['name']])
  })

  test('an id is made from the name, and is free', () => {
    expect(freeId('New & hurting!', ['new'])).toBe('new-hurting')
    expect(freeId('New & hurting!', ['new-hurting', 'new-hurting-2'])).toBe('new-hurting-3')
    expect(freeId('火', [])).toBe('rule')
  })
})

test('a rule is told in one line', () => {
  expect([windowWords(10), windowWords(60), windowWords(90), windowWords(2880)]).toEqual(['10 minutes', '1 hour', '90 minutes', '2 days'])
  expect(ruleWords({ ...NEW_RULE, peopleAtLeast: 3, where: 'new' })).toBe(
    '5 times within 10 minutes, 3 people, error or worse, in production, where new: log a defect',
  )
})

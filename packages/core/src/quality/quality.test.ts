import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { parseFilterBy } from '#filter/parse-filter'
import { meetsPlain } from '#filter/meets-plain'
import {
  DEFAULT_QUALITY_RULES,
  QUALITY_VOCABULARIES,
  readQualityRule,
  ruleFor,
  type QualityFacts,
  type QualityRule,
} from './quality-rule.js'
import { zQualityRule } from './wire.js'

const aTest = (given: Partial<{ branch: string; test: string; builds: number; isMain: boolean }> = {}): QualityFacts => {
  const { branch = 'main', test = 'holds the heat', builds = 2, isMain = true } = given
  return {
    about: 'test',
    values: { repository: 'kiln', branch, suite: 'relay', test, message: 'expected 3, was 4', builds },
    flags: new Set(isMain ? (['main'] as const) : []),
    text: `relay ${test} expected 3, was 4`,
  }
}
const aFinding = (level: string): QualityFacts => ({
  about: 'finding',
  values: { repository: 'kiln', tool: 'scan', rule: 'no-loop', level, path: 'src/relay.c', message: 'Loops' },
  flags: new Set(),
  text: 'scan no-loop src/relay.c Loops',
})
const aRule = (given: Partial<QualityRule>): QualityRule => ({ ...(DEFAULT_QUALITY_RULES[0] as QualityRule), ...given })
const takes = (where: string, facts: QualityFacts) => ruleFor([readQualityRule(aRule({ about: facts.about, where }))], facts) !== null

describe('rules about what builds bring', () => {
  test('take by words, texts and numbers of what they are about', () => {
    expect(takes('', aTest())).toBe(true)
    expect(takes('main builds>=2', aTest())).toBe(true)
    expect(takes('main builds>=2', aTest({ builds: 1 }))).toBe(false)
    expect(takes('main', aTest({ isMain: false, branch: 'topic' }))).toBe(false)
    expect(takes('branch=top*c not main', aTest({ isMain: false, branch: 'topic' }))).toBe(true)
    expect(takes('test!=flaky*', aTest({ test: 'flaky door' }))).toBe(false)
    expect(takes('repository=KILN "was 4"', aTest())).toBe(true)
    expect(takes('repository=kil', aTest())).toBe(false)
    expect(takes('level=error or level=warning', aFinding('note'))).toBe(false)
    expect(takes('path=src/* level=error', aFinding('error'))).toBe(true)
  })

  test('are asked in their order; the first that takes it decides, drafts and rules about other things are passed over', () => {
    const rules = [
      aRule({ ruleId: 'draft', where: '', isDraft: true }),
      aRule({ ruleId: 'other', about: 'finding', where: '' }),
      aRule({ ruleId: 'quiet', where: 'test=flaky*', act: 'nothing' }),
      aRule({ ruleId: 'all', where: '' }),
    ].map(readQualityRule)
    expect(ruleFor(rules, aTest({ test: 'flaky door' }))?.ruleId).toBe('quiet')
    expect(ruleFor(rules, aTest())?.ruleId).toBe('all')
    expect(ruleFor(rules.slice(0, 3), aTest())).toBeNull()
  })

  test('that hold until a project says otherwise are sound, and a condition that is not understood takes nothing', () => {
    for (const rule of DEFAULT_QUALITY_RULES) expect(zQualityRule.safeParse(rule).success).toBe(true)
    expect(zQualityRule.safeParse(aRule({ where: 'severity=1' })).error?.issues[0]?.message).toContain('“severity” is not understood here')
    expect(takes('severity=1', aTest())).toBe(false)
  })

  test('whatever their condition, take what a plain reading of each part takes', () => {
    const parts = fc.constantFrom('main', 'builds>=2', 'builds<2', 'builds=3', 'test=holds', 'test!=holds', 'repository=kiln', 'heat')
    const vocabulary = QUALITY_VOCABULARIES.test
    fc.assert(
      fc.property(fc.array(parts, { minLength: 1, maxLength: 4 }), fc.integer({ min: 1, max: 4 }), fc.boolean(), (all, builds, isMain) => {
        const facts = aTest({ builds, isMain })
        if (facts.about !== 'test') throw new Error('unreachable')
        const plain: Record<string, boolean> = {
          main: isMain,
          'builds>=2': builds >= 2,
          'builds<2': builds < 2,
          'builds=3': builds === 3,
          'test=holds': true,
          'test!=holds': false,
          'repository=kiln': true,
          heat: true,
        }
        const meets = (text: string) => {
          const parsed = parseFilterBy(vocabulary, text)
          return 'filter' in parsed && meetsPlain(parsed.filter, facts, vocabulary)
        }
        expect(meets(all.join(' '))).toBe(all.every((part) => plain[part]))
        expect(meets(all.join(' or '))).toBe(all.some((part) => plain[part]))
        expect(meets(`not (${all.join(' or ')})`)).toBe(!all.some((part) => plain[part]))
      }),
    )
  })
})

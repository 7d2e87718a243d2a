import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { keysInBranchName, namesKey, parseReferences } from './references.js'

const prefixes = { items: new Set(['EMB']), requirements: new Set(['SAF', 'PLN']) }
const fixes = (text: string) => parseReferences(text, prefixes).fixes.map((fix) => fix.key)
const named = (text: string) => parseReferences(text, prefixes).named

describe('parseReferences', () => {
  test.each([
    ['Fixes EMB-1', ['EMB-1']],
    ['fixed EMB-1, EMB-2 and EMB-3', ['EMB-1', 'EMB-2', 'EMB-3']],
    ['This closes: EMB-7.', ['EMB-7']],
    ['Resolves EMB-4 (see EMB-5)', ['EMB-4']],
    ['does not fix EMB-1', []],
    ["doesn't really fix EMB-1", []],
    ['prefix EMB-1', []],
    ['hotfixes EMB-1', []],
    ['Fixes `EMB-1`', []],
    ['> fixes EMB-1', []],
    ['fixes https://x.example/EMB-1', []],
    ['fixes UTF-8 and SHA-256', []],
    ['fixes emb-1', []],
    ['fix\nEMB-1', []],
    ['~~~\nfixes EMB-1\n~~~\nfixes EMB-2', ['EMB-2']],
  ])('%j names as fixed %j', (text, keys) => expect(fixes(text)).toEqual(keys))

  test('a negated verb still ties', () => expect(named('does not fix EMB-1')).toEqual(['EMB-1']))
  test('words with more letters, digits or hyphens around are not keys', () =>
    expect(named('XEMB-1 EMB-1a EMB-12-3 EMB-0 a/EMB-9')).toEqual([]))

  test('trailers of the last paragraph are read by name, whatever their case', () => {
    const refs = parseReferences(
      'Mend it\n\nBody.\n\nFIXES: EMB-142, emb-150\nRequirement: SAF-3\nVerifies: PLN-2\nTime: 1h 30m\n' +
        'Time: -20m on 2026-03-02\nReverts: 0123abc\nOwner: ines',
      prefixes,
    )
    expect(refs.fixes.map((fix) => [fix.key, fix.by])).toEqual([
      ['EMB-142', 'trailer'],
      ['EMB-150', 'trailer'],
    ])
    expect(refs).toMatchObject({
      requirements: ['SAF-3'],
      verifies: ['PLN-2'],
      times: [
        { minutes: 90, on: null },
        { minutes: -20, on: '2026-03-02' },
      ],
      reverts: ['0123abc'],
      fields: [{ name: 'owner', value: 'ines' }],
    })
  })

  test('a trailer in the middle or in a subject is prose', () => expect(fixes('Fixes: EMB-1\n\nmore')).toEqual(['EMB-1']))

  test("git's own prose about reverts and picks is read", () => {
    const refs = parseReferences(
      'Revert "x"\n\nThis reverts commit 0123456789abcdef0123456789abcdef01234567.\n\n' +
        '(cherry picked from commit fedcba9876543210fedcba9876543210fedcba98)',
      prefixes,
    )
    expect(refs.reverts).toEqual(['0123456789abcdef0123456789abcdef01234567'])
    expect(refs.pickedFrom).toBe('fedcba9876543210fedcba9876543210fedcba98')
  })

  test('any text is read without failing, and what is fixed is also named', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.constantFrom(
            'fixes',
            'EMB-1',
            'EMB-22',
            '`',
            '```',
            '\n',
            '\n\n',
            '>',
            ', ',
            ' and ',
            ' ',
            'Fixes: ',
            'https://',
            'not ',
            'é',
            ':',
          ),
          { maxLength: 40 },
        ),
        (parts) => {
          const refs = parseReferences(parts.join(''), prefixes)
          expect(refs.fixes.every((fix) => refs.named.includes(fix.key))).toBe(true)
        },
      ),
    )
  })

  test('a megabyte of backticks is read in linear time', () => {
    expect(named(`${'`'.repeat(3)} ${'` `` '.repeat(200_000)}EMB-1`).length).toBeLessThanOrEqual(1)
  })
})

test('branch names hold keys in any case, as whole words', () => {
  expect(keysInBranchName('fix/emb-142-sensor-gap', prefixes)).toEqual(['EMB-142'])
  expect(keysInBranchName('EMB-1/EMB-1', prefixes)).toEqual(['EMB-1'])
  expect(keysInBranchName('xemb-1-and-utf-8', prefixes)).toEqual([])
})

test('namesKey tells a key from a longer one that begins alike', () => {
  expect(['EMB-1 holds', 'holds (EMB-1)', 'EMB-12 holds', 'XEMB-1 holds'].map((text) => namesKey(text, 'EMB-1'))).toEqual([
    true,
    true,
    false,
    false,
  ])
})

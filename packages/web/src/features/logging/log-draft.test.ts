import { keptTexts } from '#shared/test/browser-globals'
import { beforeEach, describe, expect, test } from '@jest/globals'
import { zLogItem } from '@dystracer/core/items/wire'
import { PRIORITIES } from '@dystracer/core/setup/field-use'
import { LINE_FIELDS, type LineField } from '@dystracer/core/setup/item-fields'
import fc from 'fast-check'
import { EMPTY_DRAFT, keepGoing, storeDraft, storedDraft, toLogItem, type LogDraft } from './log-draft'

const text = fc.string({ unit: 'grapheme', maxLength: 20 })
const lines = Object.fromEntries(LINE_FIELDS.map((name) => [name, text])) as Record<LineField, typeof text>
const draft: fc.Arbitrary<LogDraft> = fc.record({
  ...lines,
  title: fc.string({ minLength: 1, maxLength: 60 }).map((each) => `A ${each}`),
  type: fc.constantFrom('defect', 'story', 'task'),
  project: fc.constantFrom('EMB', 'STU'),
  severity: fc.constantFrom('', '1', '5'),
  priority: fc.constantFrom('', ...PRIORITIES),
  component: text,
  requirement: text,
  ownerId: text,
  points: fc.constantFrom('', '3', '0.5'),
  dueOn: fc.constantFrom('', '2026-12-24'),
  estimate: fc.constantFrom('', '45m', '1h 30m'),
  labels: fc.array(fc.constantFrom('hardware', ' relay ', '', 'relay')).map((list) => list.join(',')),
  parent: fc.constantFrom('', 'emb-4', 'EMB-4'),
  isConfidential: fc.boolean(),
  ownValues: fc.constant({}),
  description: fc.string({ unit: 'grapheme', maxLength: 200 }),
})

beforeEach(() => localStorage.clear())

describe('a draft', () => {
  test('is kept as it stands, and gone once it is dropped', () => {
    fc.assert(
      fc.property(draft, (given) => {
        storeDraft(given)
        expect(storedDraft()).toEqual(given)
        storeDraft(null)
        expect(storedDraft()).toEqual(EMPTY_DRAFT)
        expect(keptTexts.size).toBe(0)
      }),
    )
  })

  test('that cannot be read is an empty one; what an older one lacks is empty', () => {
    localStorage.setItem('draft/log', '{"title":')
    expect(storedDraft()).toEqual(EMPTY_DRAFT)
    localStorage.setItem('draft/log', '{"title":"Shelf light","severity":"2"}')
    expect(storedDraft()).toEqual({ ...EMPTY_DRAFT, title: 'Shelf light', severity: '2' })
  })

  test('keeps project, type and milestone for the next one, and nothing else', () => {
    fc.assert(
      fc.property(draft, (given) => {
        const next = keepGoing(given)
        expect(next).toEqual({ ...EMPTY_DRAFT, project: given.project, type: given.type, milestone: given.milestone })
      }),
    )
  })
})

describe('what is sent of a draft', () => {
  test('holds what was typed, trimmed; fields left empty are none', () => {
    const sent = toLogItem(
      {
        ...EMPTY_DRAFT,
        title: ' Door ',
        severity: '2',
        component: ' Kiln control ',
        points: ' 2.5',
        estimate: '1h 30m',
        labels: 'door, ,relay,door',
        parent: ' emb-7 ',
      },
      'EMB',
    )
    expect(sent).toMatchObject({
      severity: 2,
      component: 'Kiln control',
      points: 2.5,
      estimateMinutes: 90,
      labels: ['door', 'relay'],
      parent: 'EMB-7',
    })
    expect([sent.ownerId, sent.milestone, sent.dueOn, sent.requirement, sent.sprint, sent.priority]).toEqual([
      null,
      null,
      null,
      null,
      null,
      null,
    ])
  })

  test('names every field that the server knows of a new item but those that are set later, and none that it refuses', () => {
    const later = new Set(['coOwnerIds', 'classification'])
    expect(Object.keys(toLogItem(EMPTY_DRAFT, 'EMB')).sort()).toEqual(
      Object.keys(zLogItem.shape)
        .filter((field) => !later.has(field))
        .sort(),
    )
    fc.assert(
      fc.property(draft, (given) => {
        expect(zLogItem.safeParse(toLogItem(given, 'EMB')).error?.issues ?? []).toEqual([])
      }),
    )
  })
})

import { expect, test } from '@jest/globals'
import { within } from '@testing-library/react'
import { EVIDENCE_CODES, STAGES, TREAD_STATES, type Evidence, type Ladder, type Tread } from '@dystracer/core/ladder/ladder'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { EvidenceLine } from './evidence-text'
import { DriftLines, LadderView, STAGE_NAME } from './LadderView'

const SHA = `abcdef1${'0'.repeat(33)}`
const evidence = (code: Evidence['code'], given: Partial<Evidence> = {}): Evidence => ({
  code,
  by: null,
  atMs: null,
  ref: null,
  facts: {},
  ...given,
})
const ladder = (treads: Partial<Record<Tread['stage'], Partial<Tread>>>): Ladder => ({
  stage: 'merged',
  treads: STAGES.map((stage) => ({ stage, state: 'waiting', evidence: [], ...treads[stage] })),
  hasComeBack: false,
  disposition: null,
  drift: [],
})
const nameOf = (actor: string | null) => (actor === 'person:ines' ? 'Ines' : 'somebody')
const answers = { readMe: () => aMe() }

test('each stage stands with its state in words, and what it waits for', () => {
  const { getByRole } = show(
    <LadderView
      ladder={ladder({
        logged: { state: 'proved', evidence: [evidence('logged-by', { by: 'person:ines' })] },
        merged: { state: 'contradicted', evidence: [evidence('fix-reverted', { ref: { kind: 'commit', id: `kiln/${SHA}` } })] },
        released: { state: 'hole' },
        verified: { evidence: [evidence('waits-for', { facts: { what: 'verification' } })] },
      })}
      nameOf={nameOf}
      actsFor={({ stage }) => (stage === 'verified' ? <button type="button">Verify it</button> : null)}
    />,
    { answers },
  )
  const rows = within(getByRole('list', { name: 'Ladder' })).getAllByRole('listitem')
  const told = rows.map((row) => `${within(row).getByRole('img').getAttribute('aria-label')}: ${row.textContent}`)
  expect(told).toEqual([
    'evidence holds: LoggedInes',
    'not reached: Accepted',
    'not reached: Underway',
    'not reached: In review',
    'contradicted: Mergedtaken back by abcdef1',
    'missing: Released',
    'not reached: Verifiedwaits for someone, or silence, to prove itVerify it',
  ])
  expect(within(rows[4] as HTMLElement).getByRole('link', { name: 'abcdef1' })).toBeTruthy()
})

test('of much evidence the newest four are told, with how many more there are', () => {
  const commits = Array.from({ length: 9 }, (_, at) =>
    evidence('commit', { ref: { kind: 'commit', id: `kiln/${at}${SHA.slice(1)}` }, atMs: at, facts: { subject: `Step ${at}` } }),
  )
  const { getByText, queryByText } = show(
    <LadderView ladder={ladder({ underway: { state: 'proved', evidence: commits } })} nameOf={nameOf} />,
    { answers },
  )
  getByText('5 more before')
  getByText('Step 8')
  getByText('Step 5')
  expect(queryByText('Step 4')).toBeNull()
})

test('where claims and evidence part is said for each; nothing where they agree', () => {
  const { getByRole, unmount } = show(
    <DriftLines
      drift={[
        { code: 'claim', stage: 'verified' },
        { code: 'hole', stage: 'in-review' },
        { code: 'contradiction', stage: 'merged' },
      ]}
      actsFor={({ stage }) => (stage === 'verified' ? 'Act.' : null)}
    />,
    { answers },
  )
  expect([...getByRole('list').children].map(({ textContent }) => textContent)).toEqual([
    '“Verified” is said, and no evidence shows it. Act.',
    '“In review” is missing, though a later stage holds. ',
    'evidence speaks against “Merged”. ',
  ])
  unmount()
  expect(show(<DriftLines drift={[]} />, { answers }).container.textContent).toBe('')
})

test.each(EVIDENCE_CODES)('evidence %s is told in words, with all that it knows', (code) => {
  const facts = { repository: 'kiln', environment: 'production', release: '4.1.2', number: 7, subject: 'A subject', words: 'some words' }
  const full = evidence(code, {
    by: 'person:ines',
    atMs: 1_790_000_000_000,
    ref: { kind: 'commit', id: `kiln/${SHA}` },
    facts: {
      ...facts,
      total: 3,
      failed: 1,
      count: 2,
      patches: 2,
      patchesOnMain: 1,
      neededMs: 3_600_000,
      exercised: 9,
      reached: 1,
      of: 2,
      name: 'fix/a',
    },
  })
  const told = show(<EvidenceLine evidence={full} nameOf={nameOf} />, { answers }).container.textContent ?? ''
  expect(told.trim()).not.toBe('')
  expect(told).not.toMatch(/undefined|null|NaN|\[object/)
})

test('every state of a tread and every stage has a word of its own', () => {
  const states = TREAD_STATES.map((state) => {
    const { container, unmount } = show(<LadderView ladder={ladder({ logged: { state } })} nameOf={nameOf} />, { answers })
    const word = container.querySelector('[data-stage="logged"] [role="img"]')?.getAttribute('aria-label')
    unmount()
    return word
  })
  expect(new Set(states).size).toBe(TREAD_STATES.length)
  expect(new Set(Object.values(STAGE_NAME)).size).toBe(STAGES.length)
})

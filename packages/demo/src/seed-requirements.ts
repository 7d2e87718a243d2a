import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '@dystracer/server/platform/context'
import { agreeTo, askAgreement, remarkOn } from '@dystracer/server/subjects/agreements/agreements.commands'
import { readAgreement } from '@dystracer/server/subjects/agreements/agreements.views'
import { setTerm } from '@dystracer/server/subjects/glossary/glossary.commands'
import { keepDueReports, scheduleReports } from '@dystracer/server/subjects/audits/audits.commands'
import { agreeBaseline, listBaselines, makeBaseline } from '@dystracer/server/subjects/requirements/baselines.commands'

const PROJECT = 'EMB'
const DAY_MS = 86_400_000
const HOUR_MS = 3_600_000
/** When somebody kept the requirements under a name, in days from the beginning, and who agreed to that. */
const BASELINES = [
  {
    day: 64,
    name: 'For the inspection in February',
    words: 'What the kilns of the Quayside studio were looked at by.',
    by: 'ines',
    agreed: ['ines', 'teo'],
  },
  { day: 165, name: 'Controller 4.1', words: 'Handed to the insurer with the release.', by: 'ines', agreed: ['ines', 'rafe', 'teo'] },
]

/** Makes the baselines whose day has come, and keeps a report for an audit each month; gives what does so as time goes on. */
export function baselinesAsTimeGoes(ctx: ServiceContext, memberOf: (personId: string) => Who): (atMs: number) => void {
  let beganAtMs: number | null = null
  const due = [...BASELINES]
  return (atMs) => {
    if (beganAtMs === null) {
      beganAtMs = atMs
      scheduleReports(ctx, memberOf('ines'), PROJECT, 'month')
    }
    keepDueReports(ctx)
    for (let [next] = due; next && atMs - beganAtMs >= next.day * DAY_MS; [next] = due) {
      const { name, words, by, agreed } = next
      due.shift()
      makeBaseline(ctx, memberOf(by), PROJECT, { name, words })
      const made = listBaselines(ctx, PROJECT).rows.find((row) => row.name === name)
      for (const personId of agreed) if (made) agreeBaseline(ctx, memberOf(personId), PROJECT, made.baselineId)
    }
  }
}

const WORDS = [
  { term: 'firing', meaning: 'Heating a kiln by a schedule, from cold to cold again.', instead: ['burn', 'run of the kiln'] },
  {
    term: 'segment',
    meaning: 'A part of a schedule: to a temperature at a rate, or at a temperature for a time.',
    instead: ['phase', 'ramp'],
  },
  {
    term: 'technician',
    meaning: 'Somebody of the studio who may clear faults and open a kiln’s cabinet.',
    instead: ['engineer', 'operator'],
  },
  { term: 'limiter', meaning: 'The device that opens the safety contactor by itself, whatever the controller does.', instead: ['cut-out'] },
]

/** What the team agreed to call things. */
export function layDownGlossary(
  ctx: ServiceContext,
  memberOf: (personId: string) => Who,
  clock: { at(atMs: number, act: () => void): void; todayMs: number },
): void {
  clock.at(clock.todayMs - 120 * DAY_MS, () => {
    for (const word of WORDS) setTerm(ctx, memberOf('ines'), PROJECT, { ...word, before: null })
  })
}

/** Four people are asked to agree to what the next controller has to keep: two have, one remarked, one has not looked yet. */
export function layDownAgreement(
  ctx: ServiceContext,
  memberOf: (personId: string) => Who,
  clock: { at(atMs: number, act: () => void): void; todayMs: number },
): void {
  const keys = ['SAF-2', 'SAF-3', 'SAF-4', 'SAF-5', 'SAF-6', 'SAF-7', 'SAF-9', 'SAF-11']
  const of = { project: PROJECT, agreementId: '' }
  const askedAtMs = clock.todayMs - 5 * DAY_MS
  const after = (hours: number, act: () => void) => clock.at(askedAtMs + hours * HOUR_MS, act)
  after(0, () => {
    of.agreementId = askAgreement(ctx, memberOf('ines'), PROJECT, {
      name: 'Safety of controller 4.2',
      words: 'Are the times still right for the kilns with two contactors?',
      keys,
      people: ['rafe', 'mara', 'ines', 'teo'],
      dueOn: new Date(clock.todayMs + 9 * DAY_MS).toISOString().slice(0, 10),
    })
  })
  const verdicts = (personId: string, wanted: (key: string) => boolean) => ({
    isOn: true,
    verdicts: readAgreement(ctx, memberOf(personId), PROJECT, of.agreementId)
      .rows.filter(({ key }) => wanted(key))
      .map(({ key, revision }) => ({ key, revision })),
  })
  after(3, () =>
    agreeTo(
      ctx,
      memberOf('rafe'),
      of,
      verdicts('rafe', () => true),
    ),
  )
  after(26, () => {
    agreeTo(
      ctx,
      memberOf('mara'),
      of,
      verdicts('mara', (key) => key !== 'SAF-11'),
    )
    remarkOn(ctx, memberOf('mara'), of, {
      key: 'SAF-11',
      quote: 'a realistic remaining time',
      text: 'How far off may it be? I cannot test “realistic”: say a number of minutes.',
    })
  })
  after(49, () =>
    agreeTo(
      ctx,
      memberOf('teo'),
      of,
      verdicts('teo', (key) => key === 'SAF-2' || key === 'SAF-3'),
    ),
  )
}

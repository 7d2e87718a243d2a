import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '@dystracer/server/platform/context'
import { beginExploration, endExploration, note, setClock, setPoint } from '@dystracer/server/subjects/exploring/exploring.commands'
import { setFindingAside } from '@dystracer/server/subjects/findings/findings.commands'
import { setPinnedCharts } from '@dystracer/server/subjects/trends/trends.commands'
import { sql } from '@dystracer/server/platform/db/statements'

const PROJECT = 'EMB'
const DAY_MS = 86_400_000
const MINUTE_MS = 60_000

/** Two explorations, one that is over and one that Noor is at; a finding that somebody set aside; and the charts that people look at. */
export async function layDownExploring(
  ctx: ServiceContext,
  memberOf: (personId: string) => Who,
  clock: { at(atMs: number, act: () => void): void; todayMs: number },
): Promise<void> {
  const [mara, noor, rafe] = ['mara', 'noor', 'rafe'].map(memberOf) as [Who, Who, Who]
  const begunAtMs = clock.todayMs - 9 * DAY_MS
  let of = { project: PROJECT, explorationId: '' }
  const after = (minutes: number, act: () => void) => clock.at(begunAtMs + minutes * MINUTE_MS, act)
  after(0, () => {
    const explorationId = beginExploration(ctx, mara, PROJECT, {
      question: 'What does a member see when the kiln they booked is taken from them?',
      text: 'Two accounts, one of them a technician. **Quayside kiln 2** is free on Thursdays.',
      points: ['by a technician who needs it', 'by a series that is moved', 'while the page is open', 'with a guest on the reservation'],
      about: ['BKG-10'],
      release: 'firing-planner@2.4.0',
      boxMinutes: 60,
    })
    of = { ...of, explorationId }
    setClock(ctx, mara, of, true)
  })
  const noted = (minutes: number, sort: Parameters<typeof note>[3]['sort'], words: string) =>
    after(minutes, () => note(ctx, mara, of, { sort, words, logsDefect: false }))
  const looked = (minutes: number, point: string) => after(minutes, () => setPoint(ctx, mara, of, { point, isDone: true }))
  noted(8, 'seen', 'A mail comes within a minute, and names **who** took it and why.')
  looked(9, 'by a technician who needs it')
  noted(21, 'question', 'The page that was open still offers “Cancel”. Pressed, it says “not found”. Is that meant?')
  looked(22, 'while the page is open')
  noted(34, 'trouble', 'The guest gets no mail at all: they will stand before a kiln that somebody else fires.')
  looked(35, 'with a guest on the reservation')
  noted(47, 'idea', 'Look at the same on a phone, where the page sleeps.')
  after(52, () =>
    endExploration(ctx, mara, of, {
      isEnded: true,
      words: 'Whoever booked is told, guests are not. The series was not looked at: moving one needs a right that neither account has.',
    }),
  )
  const today = { project: PROJECT, explorationId: '' }
  clock.at(clock.todayMs - 40 * MINUTE_MS, () => {
    today.explorationId = beginExploration(ctx, noor, PROJECT, {
      question: 'Does a kiln keep its day plan through a power cut?',
      text: '',
      points: ['cut while heating', 'cut while the plan is sent', 'cut twice within a minute'],
      about: ['SAF-5'],
      release: 'kiln-controller@4.1.3',
      boxMinutes: 90,
    })
    setClock(ctx, noor, today, true)
  })
  clock.at(clock.todayMs - 26 * MINUTE_MS, () => {
    setPoint(ctx, noor, today, { point: 'cut while heating', isDone: true })
    note(ctx, noor, today, { sort: 'seen', words: 'Heating goes on in the same segment after 40 s of dark.', logsDefect: false })
    setClock(ctx, noor, today, false)
  })
  clock.at(clock.todayMs - 30 * DAY_MS, () =>
    setPinnedCharts(ctx, rafe, PROJECT, [
      { chart: 'tests', repository: 'kiln-controller' },
      { chart: 'findings', repository: 'kiln-controller' },
      { chart: 'tests', repository: 'firing-planner' },
      { chart: 'findings', repository: 'glaze-lab' },
    ]),
  )
  const finding = sql(
    ctx.db,
    'SELECT tool, identity FROM finding WHERE repository = @repository AND rule_id = @rule ORDER BY identity LIMIT 1',
  ).get<{
    tool: string
    identity: string
  }>({ repository: 'kiln-controller', rule: 'address-from-outside' })
  if (!finding) return
  const until = new Date(clock.todayMs + 60 * DAY_MS).toISOString().slice(0, 10)
  clock.at(clock.todayMs - 5 * DAY_MS, () =>
    setFindingAside(ctx, rafe, 'kiln-controller', { ...finding, until, why: 'it listens on the loopback alone, in the demo cabinet' }),
  )
}

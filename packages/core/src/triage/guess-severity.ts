import { SEVERITY_UNJUDGED } from '#setup/field-use'

/** What a guess of severity rests on; worded for people by the interface. */
export type SeverityReason =
  | { code: 'words'; word: string }
  | { code: 'in-production'; occurrences: number }
  | { code: 'not-in-production' }
  | { code: 'alike'; keys: string[] }
  | { code: 'component'; component: string; count: number }
  | { code: 'no-sign' }
/** A proposed severity and the words that speak for it. */
export interface SeverityGuess {
  severity: number
  reason: SeverityReason
}

/**
 * Words of a title by how bad things are where they stand, worst first: harm to people, kilns, money or secrets; work lost or stopped;
 * looks. Written from what the scale means, not fitted to
 * samples. Only titles are read: bodies name what did not happen as often as what did. On the 159 sample reports this is exact in 73 where
 * "always 3" is in 69, so it
 * serves to bring what sounds dangerous to the front of the queue, and is always shown with its word.
 */
const SIGNS: readonly [severity: number, words: RegExp][] = [
  [
    1,
    new RegExp(
      String.raw`\b(?:on fire|caught fire|smoke|burn(?:s|t|ed|ing)?|injur(?:y|ed)|electric shock|toxic|poison\w*|explo\w+|` +
        String.raw`overheat\w*|(?:kept|keeps|still|goes on|went on) heating|at full power|flat out|data loss|los(?:t|es) (?:all|` +
        String.raw`every)|charged (?:twice|double)|double charge\w*|(?:anyone|anybody|stranger\w*) can (?:see|read|change|` +
        String.raw`delete))\b`,
      'i',
    ),
  ],
  [
    2,
    new RegExp(
      String.raw`\b(?:crash\w*|froz\w+|freez\w+|dead ?lock\w*|corrupt\w*|overwrit\w+|never (?:ends?|stops?)|(?:missing|` +
        String.raw`no) warning|warning\w* .{0,40}missing|stop(?:s|ped) (?:working|firing)|error 5\d\d|silently)\b`,
      'i',
    ),
  ],
  [
    4,
    new RegExp(
      String.raw`\b(?:typo|spelling|misspel\w+|wording|colou?r|align\w*|padding|margin|icon|capital\w*|plural|comma|font|` +
        String.raw`translat\w+|tooltip|charset)\b`,
      'i',
    ),
  ],
]
/** So many of a component's decided items make its middle severity worth saying. */
const COMPONENT_MIN = 5

/** The severity (1 worst to 5) that a title suggests; null where nothing does. */
export function guessSeverityFromTitle(title: string): SeverityGuess | null {
  for (const [severity, words] of SIGNS) {
    const word = words.exec(title.slice(0, 300))?.[0]
    if (word !== undefined) return { severity, reason: { code: 'words', word: word.toLowerCase() } }
  }
  return null
}

/** What a fault suggests: whether it happens where customers are, and how often. */
export function guessSeverityFromFault(fault: { isInProduction: boolean; occurrences: number; peopleHit: number }): SeverityGuess {
  if (!fault.isInProduction) return { severity: SEVERITY_UNJUDGED, reason: { code: 'not-in-production' } }
  return { severity: fault.peopleHit >= 25 ? 1 : 2, reason: { code: 'in-production', occurrences: fault.occurrences } }
}

/** What decided look-alikes suggest: the middle of their severities, if there are at least two. */
export function guessSeverityFromAlike(alike: readonly { key: string; severity: number }[]): SeverityGuess | null {
  if (alike.length < 2) return null
  const sorted = alike.map((item) => item.severity).sort((a, b) => a - b)
  return { severity: sorted[Math.floor((sorted.length - 1) / 2)] as number, reason: { code: 'alike', keys: alike.map((item) => item.key) } }
}

/** What a component's decided items suggest: how many there are of each severity, 1 to 5. */
export function guessSeverityFromComponent(component: string, counts: readonly number[]): SeverityGuess | null {
  const total = counts.reduce((sum, count) => sum + count, 0)
  if (total < COMPONENT_MIN) return null
  let seen = 0
  const severity = counts.findIndex((count) => {
    seen += count
    return seen * 2 >= total
  })
  return { severity: severity + 1, reason: { code: 'component', component, count: total } }
}

/**
 * The first guess that there is, by how much it rests on: facts of a fault, then words of danger, then decided look-alikes, then the
 * component's past.
 */
export function firstGuess(...guesses: (SeverityGuess | null)[]): SeverityGuess {
  return guesses.find((guess) => guess !== null) ?? { severity: SEVERITY_UNJUDGED, reason: { code: 'no-sign' } }
}

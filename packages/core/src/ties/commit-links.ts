/** What may speak for an item, or against it, when a commit names none. */
export const TIE_REASONS = ['words', 'component', 'files', 'author', 'fault', 'later', 'settled', 'no-mend'] as const
/** One of them. */
export type TieReason = (typeof TIE_REASONS)[number]

/**
 * How one commit and one item stand to each other: what the model reads. `words` is the score of the likeness index; all others are
 * shares or yes and no, from 0 to 1.
 */
export interface TieFacts {
  words: number
  /** How much of what was done in these folders was for the item's component. */
  component: number
  /** How much of the commit's files other commits of the item touched. */
  files: number
  /** Its author owns the item, or has it in hand. */
  author: number
  /** A fault of the item has a frame of its own in one of the files. */
  fault: number
  /** The item was logged after the commit was made. */
  later: number
  /** The item was settled when the commit was made. */
  settled: number
  /** The message tells of something new or of upkeep, not of mending. */
  'no-mend': number
}

/** One weight for each fact, one for words in files of the component's, and what stands before any fact. */
export type TieWeights = Record<TieReason | 'componentWords' | 'before', number>

/**
 * What is believed before anybody decided anything: logits, fitted on the worked-on half of the sample commits for `words`, `component`
 * and `no-mend`; set by judgement for the rest, which the sample does not tell.
 */
export const defaultTieWeights: TieWeights = {
  before: -3.2,
  words: 12,
  componentWords: 5,
  component: 0,
  files: 3,
  author: 1.2,
  fault: 2.5,
  later: -1.2,
  settled: -2.5,
  'no-mend': -3,
}

/** An item is offered from this likelihood on. */
export const OFFERED_FROM = 0.2
/** From this likelihood on, and far enough before the next, a proposal is said to be sure; it is never tied without a person. */
export const SURE_FROM = 0.9

/** What a commit says and touches. */
export interface CommitText {
  message: string
  files: readonly string[]
}

/**
 * A commit as a text that items are held against: its subject as the title, its body and the words of its paths
 * below, since a path often says what the message does not.
 */
export function textOfCommit({ message, files }: CommitText): { title: string; text: string } {
  const [title = '', ...rest] = message.split('\n')
  return { title, text: `${rest.join('\n')}\n${files.flatMap((file) => file.split(/[/._-]/)).join(' ')}` }
}

/** Verbs and nouns at the head of a subject by which developers say that they add or keep up, and do not mend. */
const UPKEEP = new RegExp(
  String.raw`^(?:[\w./ -]{1,30}: )?(?:adds?|added|allows?|accepts?|supports?|introduces?|offers?|shows?|logs?|measures?|` +
    `metrics?|counts?|renames?|tid(?:y|ies)|bumps?|releases?|refactors?|documents?|docs?|tests?|prepares?|wip|` +
    String.raw`moves?|extracts?|cleans?|new|second|nicer|friendlier|larger|smaller|format|lint|upgrades?)\b`,
  'i',
)
const UNCHANGED = /\b(?:no change in behaviou?r|no functional change|unit tests?)\b/i

/** Whether a message tells of something new, or of upkeep: such commits seldom are for a defect. */
export function isUpkeep(message: string): boolean {
  return UPKEEP.test(message) || UNCHANGED.test(message)
}

/** What the model makes of facts: the weighed sum, and each reason's part in it. Order by it; `likelihood` turns it into one. */
export function weighTie(facts: TieFacts, weights: TieWeights = defaultTieWeights): { logit: number; parts: [TieReason, number][] } {
  const parts = TIE_REASONS.map((reason): [TieReason, number] => [
    reason,
    weights[reason] * facts[reason] + (reason === 'component' ? weights.componentWords * facts.component * facts.words : 0),
  ])
  return { logit: weights.before + parts.reduce((sum, [, part]) => sum + part, 0), parts }
}

/** The likelihood that a logit stands for. */
export function likelihoodOf(logit: number): number {
  return 1 / (1 + Math.exp(-logit))
}

/** An item that a commit may be for. */
export interface TieProposal {
  key: string
  likelihood01: number
  isSure: boolean
  /** What speaks for it, the strongest first. */
  reasons: TieReason[]
}

/** So much more likely than the next must one be to be called sure, as odds. */
const SURE_ODDS = 2
const REASON_FROM = 0.3

/** Candidates with how likely a commit is for each, likeliest first; of equals the one with the lesser key. */
export function rankTies(
  candidates: readonly { key: string; facts: TieFacts }[],
  weights: TieWeights = defaultTieWeights,
): { key: string; logit: number; likelihood01: number; parts: [TieReason, number][] }[] {
  return candidates
    .map(({ key, facts }) => ({ key, ...weighTie(facts, weights) }))
    .map((each) => ({ ...each, likelihood01: likelihoodOf(each.logit) }))
    .sort((a, b) => b.logit - a.logit || (a.key < b.key ? -1 : 1))
}

/** The items that a commit may be for, likeliest first; empty where none is likely enough to be worth a look. */
export function proposeTies(
  candidates: readonly { key: string; facts: TieFacts }[],
  { weights = defaultTieWeights, limit = 3 }: { weights?: TieWeights; limit?: number } = {},
): TieProposal[] {
  const ranked = rankTies(candidates, weights)
  const next = ranked[1]?.logit ?? Number.NEGATIVE_INFINITY
  return ranked
    .filter(({ likelihood01 }) => likelihood01 >= OFFERED_FROM)
    .slice(0, limit)
    .map(({ key, logit, likelihood01, parts }, at) => ({
      key,
      likelihood01,
      isSure: at === 0 && likelihood01 >= SURE_FROM && logit - next >= Math.log(SURE_ODDS),
      reasons: parts
        .filter(([, part]) => part >= REASON_FROM)
        .sort((a, b) => b[1] - a[1])
        .map(([reason]) => reason),
    }))
}

/** A proposal that somebody decided. */
export interface DecidedTie {
  facts: TieFacts
  isRight: boolean
}

const ROUNDS = 200
const STEP = 0.05
/** How strongly what was believed before holds: as much as this many decisions. */
const FAITH = 2

/**
 * The weights after people decided: logistic regression held to the weights before by a normal prior around them (maximum a posteriori,
 * as in Genkin, Lewis and Madigan 2007), by gradient steps from there, so that no decisions change nothing and few change
 * little. The order of decisions does not matter. O(decisions × rounds).
 */
export function learnTieWeights(decided: readonly DecidedTie[], before: TieWeights = defaultTieWeights): TieWeights {
  const names = Object.keys(before) as (keyof TieWeights)[]
  const rows = decided.map(({ facts, isRight }) => ({
    isRight,
    x: { ...facts, before: 1, componentWords: facts.component * facts.words } satisfies Record<keyof TieWeights, number>,
  }))
  const now = { ...before }
  for (let round = 0; round < ROUNDS; round++) {
    const slope = Object.fromEntries(names.map((name) => [name, FAITH * (now[name] - before[name])])) as TieWeights
    for (const { x, isRight } of rows) {
      const missed = likelihoodOf(names.reduce((sum, name) => sum + now[name] * x[name], 0)) - (isRight ? 1 : 0)
      for (const name of names) slope[name] += missed * x[name]
    }
    for (const name of names) now[name] -= (STEP / (1 + rows.length / 20)) * slope[name]
  }
  return now
}

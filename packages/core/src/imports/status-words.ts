import { DISPOSITIONS, STAGES, type Disposition, type Stage } from '#ladder/ladder'

/** What a status of another program stands for here: a stage, or the way in which an item ended without a fix. */
export const STATUS_MEANINGS = [...STAGES, ...DISPOSITIONS] as const
/** A stage or a disposition. */
export type StatusMeaning = (typeof STATUS_MEANINGS)[number]

/** Whether a status means that the item ended without a fix. */
export function isDisposition(meaning: string): meaning is Disposition {
  return (DISPOSITIONS as readonly string[]).includes(meaning)
}
/** Whether a status means a stage of the ladder. */
export function isStage(meaning: string): meaning is Stage {
  return (STAGES as readonly string[]).includes(meaning)
}

/** Words that the trade uses, by what they stand for; the first that fits counts, so that "not fixed" is not taken for "fixed". */
const WORDS: readonly (readonly [StatusMeaning, RegExp])[] = [
  ['duplicate', /duplicate|\bdup(?:e|ed)?\b|same as/],
  ['cannot-reproduce', /(?:can ?not|can.?t|un(?:able)? to|not) (?:be )?reproduc|irreproducible|works ?for ?me/],
  ['will-not-fix', /won.?t (?:fix|do)|will not (?:fix|do)|wontfix|not fixed|declined|rejected|abandoned|cancell?ed|obsolete/],
  ['works-as-required', /invalid|not a (?:bug|defect|problem)|as (?:designed|required|intended|specified)|by design/],
  ['deferred', /deferred|postponed|later|some ?day|icebox|suspended/],
  ['logged', /\bnew\b|\bopen(?:ed)?\b|to ?do|reported|submitted|backlog|un(?:triaged|confirmed|assigned)|\bidea\b|created|reopened|logged/],
  ['accepted', /accepted|confirmed|triaged|\bready\b|planned|approved|assigned|acknowledged|scheduled|selected/],
  ['in-review', /review|pull request/],
  ['underway', /progress|doing|started|active|under ?way|working|develop|implementing|blocked|\bwip\b|on hold|testing/],
  ['merged', /merged|\bfixed\b|resolved|implemented/],
  ['released', /released|deployed|delivered|shipped|\blive\b/],
  ['verified', /verified|closed|\bdone\b|complete|finished|tested|signed off/],
]

/** What a status or a resolution means by the words that the trade uses for it; null where none fits. */
export function meaningOfStatus(text: string): StatusMeaning | null {
  const word = text.trim().toLowerCase().replaceAll(/[_-]+/g, ' ')
  const own = STATUS_MEANINGS.find((meaning) => meaning.replaceAll('-', ' ') === word)
  return own ?? WORDS.find(([, sign]) => sign.test(word))?.[0] ?? null
}

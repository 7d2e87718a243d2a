import type { ReviewsEvents } from '@dystracer/core/reviews/events'
import type { EventWords } from '#shared/lib/event-words'

const VERDICT_WORDS: Record<ReviewsEvents['review-given']['verdict'], string> = {
  agreed: 'agreed',
  'changes-asked': 'asked for changes',
  remarked: 'remarked',
}

export const reviewsWords: EventWords<ReviewsEvents> = {
  'review-asked': ({ personId, isOn }, nameOf) => (isOn ? `asked ${nameOf(personId)} to look` : `${nameOf(personId)} is asked no more`),
  'review-given': ({ verdict }) => VERDICT_WORDS[verdict],
  'remark-made': ({ replyTo }) => (replyTo ? 'answered a remark' : 'remarked'),
  'remark-settled': ({ isSettled }) => (isSettled ? 'settled a remark' : 'opened a remark again'),
  'commit-remarked': ({ sha, text }) => `remarked on ${sha.slice(0, 7)}: ${text.split('\n')[0]?.slice(0, 80) ?? ''}`,
  'commit-remark-settled': ({ isSettled }) => (isSettled ? 'settled a remark' : 'opened a remark again'),
  'remark-reacted': ({ reaction, isOn }) => (isOn ? `reacted to a remark: ${reaction}` : `took a reaction back: ${reaction}`),
  'merge-tried': ({ ahead }) =>
    ahead.length === 0 ? 'merged it to see what builds say of that' : `merged it with ${ahead.join(', ')} to see what builds say of that`,
  'merge-trial-ended': () => 'took away the branch on which it was merged to see',
  'merge-wanted': ({ method, why }) =>
    method ? 'wants it merged once all holds' : why ? `it was not merged: ${why}` : 'it is not to be merged by itself any more',
  'gates-passed-over': ({ gates, words }) => `merged it though not all held (${gates.join(', ')}): ${words}`,
  'merge-gates-set': ({ repository, branches = '*', isDropped }) =>
    `${
      isDropped ? 'asks for nothing more before' : 'said what has to hold before'
    } a merge in ${repository}${branches === '*' ? '' : ` into ${branches}`}`,
}

import type { ReviewsEvents } from '@dystracer/core/reviews/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of reviews make stale, beside the things that they are about. */
export const reviewsLive: Refreshes<ReviewsEvents> = {
  'review-asked': { always: ['Overview'] },
  'review-given': { always: ['Overview'] },
  'remark-made': {},
  'remark-settled': {},
  'commit-remarked': { always: ['Remark'] },
  'commit-remark-settled': { always: ['Remark'] },
  'remark-reacted': { always: ['Remark'] },
  'merge-wanted': {},
  'merge-tried': {},
  'merge-trial-ended': {},
  'gates-passed-over': {},
  'merge-gates-set': {},
}

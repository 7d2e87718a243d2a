import type { NoticeWay, NoticeWhy } from '@dystracer/core/inbox/notice'

export const WHY_WORD: Record<NoticeWhy, string> = {
  assigned: 'yours',
  mentioned: 'mentioned',
  asked: 'asked',
  review: 'review',
  moved: 'moved',
  decided: 'decided',
  followed: 'news',
  'reported-again': 'again',
  rule: 'rule',
}
export const WHY_PHRASE: Record<NoticeWhy, string> = {
  assigned: 'An item is given to me',
  mentioned: 'I am mentioned',
  asked: 'I am asked about what I reported',
  review: 'I am asked to review',
  moved: 'My item moved',
  decided: 'It was decided on what I reported',
  followed: 'News of what I follow',
  'reported-again': 'My item was reported again',
  rule: 'An intake rule names me',
}
export const WAY_PHRASE: Record<NoticeWay, string> = { both: 'screen and mail', screen: 'screen', mail: 'mail', nothing: 'nothing' }

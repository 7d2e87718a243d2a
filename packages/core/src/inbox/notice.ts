/** Why a person is told something about an item. */
export const NOTICE_WHYS = ['assigned', 'mentioned', 'asked', 'review', 'moved', 'decided', 'followed', 'reported-again', 'rule'] as const
/** The reason for which somebody is told. */
export type NoticeWhy = (typeof NOTICE_WHYS)[number]

/** How a person wants to be told: in the inbox, by mail (gathered), by both, or not at all. */
export const NOTICE_WAYS = ['both', 'screen', 'mail', 'nothing'] as const
/** By which way somebody is told. */
export type NoticeWay = (typeof NOTICE_WAYS)[number]

/** What holds until a person chooses: what asks for something comes by mail too, news stays on the screen. */
export const DEFAULT_WAY: Record<NoticeWhy, NoticeWay> = {
  assigned: 'both',
  mentioned: 'both',
  asked: 'both',
  review: 'both',
  moved: 'screen',
  decided: 'both',
  followed: 'screen',
  'reported-again': 'screen',
  rule: 'both',
}

import { zEmpty, zPage } from '@dystracer/core/basics/wire'
import { zBookHand, zHand, zPrivateNote, zTakeInHand, zWriteNote } from '@dystracer/core/hand/wire'
import { zChooseWay, zInboxQuery, zNoticeChoices, zNoticeGroup, zReadNotices, zSnooze } from '@dystracer/core/inbox/wire'
import type { Hand } from '@dystracer/core/hand/wire'
import type { Who } from '#subjects/people/access'
import { bookHand, parkItem, putDown, readHand, takeInHand } from '#subjects/hand/hand.commands'
import { readNote, writeNote } from '#subjects/hand/notes.commands'
import { chooseWay, listInbox, markRead, readChoices, snooze } from '#subjects/inbox/notices'
import type { ServiceContext } from '#platform/context'
import { resolveKey } from '#subjects/records/visibility'
import type { Api } from '#platform/http/api'
import { keyOf } from '#subjects/items/item-answer'

interface Asked<Body> {
  ctx: ServiceContext
  who: Who
  params: Record<string, string>
  body: Body
}
/** A handler that changes what is in hand and answers with it as it then is. */
function thenHand<Body>(change: (ctx: ServiceContext, who: Who, key: string, body: Body) => void): (asked: Asked<Body>) => Hand {
  return ({ ctx, who, params, body }) => {
    change(ctx, who, keyOf(params), body)
    return readHand(ctx, who)
  }
}

/** What a person is told, what they have in hand, and their private notes. */
export function addInboxRoutes(api: Api): void {
  api.add({
    method: 'get',
    path: '/inbox',
    summary: 'What the asker was told, gathered by item',
    query: zInboxQuery,
    answer: zPage(zNoticeGroup),
    handle: ({ ctx, who, query }) => listInbox(ctx, who, query),
  })
  api.add({
    method: 'post',
    path: '/inbox/read',
    summary: 'Mark as read, by notice or all of an item',
    body: zReadNotices,
    answer: zEmpty,
    handle: ({ ctx, who, body }) => {
      markRead(ctx, who, body)
      return {}
    },
  })
  api.add({
    method: 'post',
    path: '/inbox/snooze',
    summary: 'Put an item’s news off until a time, or bring it back',
    body: zSnooze,
    answer: zEmpty,
    handle: ({ ctx, who, body }) => {
      snooze(ctx, who, body)
      return {}
    },
  })
  api.add({
    method: 'get',
    path: '/me/notice-choices',
    summary: 'By which way the asker is told what',
    answer: zNoticeChoices,
    handle: ({ ctx, who }) => readChoices(ctx, who),
  })
  api.add({
    method: 'put',
    path: '/me/notice-choices',
    summary: 'Choose the way for one kind of news',
    body: zChooseWay,
    answer: zNoticeChoices,
    handle: ({ ctx, who, body }) => {
      chooseWay(ctx, who, body)
      return readChoices(ctx, who)
    },
  })
  api.add({ method: 'get', path: '/me/hand', summary: 'What the asker has in hand', answer: zHand, handle: ({ ctx, who }) => readHand(ctx, who) })
  api.add({
    method: 'post',
    path: '/me/hand',
    summary: 'Take an item in hand; what was in hand is parked',
    body: zTakeInHand,
    answer: zHand,
    handle: thenHand((ctx, who, _key, body) => takeInHand(ctx, who, { ...body, key: resolveKey(ctx.db, who, body.key) })),
  })
  api.add({ method: 'post', path: '/me/hand/:key/park', summary: 'Park it', answer: zHand, handle: thenHand(parkItem) })
  api.add({ method: 'delete', path: '/me/hand/:key', summary: 'Put it down', answer: zHand, handle: thenHand(putDown) })
  api.add({
    method: 'post',
    path: '/me/hand/:key/time',
    summary: 'Book time that was in hand',
    body: zBookHand,
    answer: zHand,
    handle: thenHand((ctx, who, key, body) => bookHand(ctx, who, key, body.minutes)),
  })
  api.add({
    method: 'get',
    path: '/items/:key/note',
    summary: 'The asker’s private note on an item',
    answer: zPrivateNote,
    handle: ({ ctx, who, params }) => readNote(ctx, who, keyOf(params)),
  })
  api.add({
    method: 'put',
    path: '/items/:key/note',
    summary: 'Write the private note; an empty one is removed',
    body: zWriteNote,
    answer: zPrivateNote,
    handle: ({ ctx, who, params, body }) => {
      writeNote(ctx, who, keyOf(params), body.text)
      return readNote(ctx, who, keyOf(params))
    },
  })
}

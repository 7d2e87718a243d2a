import { z } from 'zod'
import { zEmpty, zPage, zPageQuery } from '@dystracer/core/basics/wire'
import {
  zAddComment,
  zAddTime,
  zAttachment,
  zComment,
  zCommentRevision,
  zDeedPreview,
  zEditComment,
  zReact,
  zTimeEntry,
  zTimeQuery,
  zTimeSums,
} from '@dystracer/core/talk/wire'
import { zBulk, zBulkDone, zFollow, zItem, zMoveItem, zReportAgain } from '@dystracer/core/items/wire'
import { zBulkUndo, zUndo, zUndone } from '@dystracer/core/undo/wire'
import { zLookAlike, zLookAlikeQuery } from '@dystracer/core/likeness/wire'
import { addAttachment, listAttachments, openAttachment, removeAttachment } from '#subjects/talk/attachments.commands'
import { addComment, editComment, listComments, listRevisions, previewDeeds, reactToComment } from '#subjects/talk/comments.commands'
import { changeMany } from '#subjects/items/bulk-changes.commands'
import { undoMany } from '#subjects/undo/bulk-undo.commands'
import { copyItem, follow, moveItem, reportAgain } from '#subjects/items/item-moves.commands'
import { undo } from '#subjects/undo/undo.commands'
import { readItem } from '#subjects/items/items.views'
import { findLookAlikes } from '#subjects/likeness/likeness.views'
import { addTime, listTime, readTimeSums, takeTimeBack, timeAsCsv } from '#subjects/talk/time.commands'
import type { Api } from '#platform/http/api'
import { keyOf, thenItem } from '#subjects/items/item-answer'

/** What people say about items and attach to them, time, and what is done to several or moved. */
export function addTalkRoutes(api: Api): void {
  addCommentRoutes(api)
  addAttachmentRoutes(api)
  addTimeRoutes(api)
  addMoveRoutes(api)
  api.add({
    method: 'get',
    path: '/look-alikes',
    summary: 'Items that look like what is being written',
    query: zLookAlikeQuery,
    answer: z.object({ rows: z.array(zLookAlike) }),
    handle: async ({ ctx, who, query }) => ({ rows: await findLookAlikes(ctx, who, { ...query, project: query.project ?? 'EMB' }) }),
  })
}

function addCommentRoutes(api: Api): void {
  api.add({
    method: 'get',
    path: '/items/:key/comments',
    summary: 'Comments, oldest first',
    query: zPageQuery,
    answer: zPage(zComment),
    handle: ({ ctx, params, query }) => listComments(ctx, keyOf(params), query),
  })
  api.add({
    method: 'post',
    path: '/items/:key/comments',
    summary: 'Comment; trailers act',
    body: zAddComment,
    answer: z.object({ commentId: z.string() }),
    handle: ({ ctx, who, params, body }) => ({ commentId: addComment(ctx, who, keyOf(params), body) }),
  })
  api.add({
    method: 'post',
    path: '/items/:key/comments/preview',
    summary: 'What a comment would do',
    body: z.strictObject({ text: z.string().max(50_000) }),
    answer: zDeedPreview,
    handle: ({ ctx, who, params, body }) => previewDeeds(ctx, who, keyOf(params), body.text),
  })
  api.add({
    method: 'patch',
    path: '/items/:key/comments/:commentId',
    summary: 'Edit one’s own comment',
    body: zEditComment,
    answer: zEmpty,
    handle: ({ ctx, who, params, body }) => {
      editComment(ctx, who, { key: keyOf(params), commentId: params.commentId ?? '', ...body })
      return {}
    },
  })
  api.add({
    method: 'get',
    path: '/items/:key/comments/:commentId/revisions',
    summary: 'Earlier texts of a comment',
    answer: z.object({ rows: z.array(zCommentRevision) }),
    handle: ({ ctx, params }) => ({ rows: listRevisions(ctx, keyOf(params), params.commentId ?? '') }),
  })
  api.add({
    method: 'post',
    path: '/items/:key/comments/:commentId/reactions',
    summary: 'React to a comment, or take the reaction back',
    body: zReact,
    answer: zEmpty,
    handle: ({ ctx, who, params, body }) => {
      reactToComment(ctx, who, { key: keyOf(params), commentId: params.commentId ?? '', ...body })
      return {}
    },
  })
}

function addAttachmentRoutes(api: Api): void {
  api.add({
    method: 'get',
    path: '/items/:key/attachments',
    summary: 'Files of an item',
    answer: z.object({ rows: z.array(zAttachment) }),
    handle: ({ ctx, params }) => ({ rows: listAttachments(ctx, keyOf(params)) }),
  })
  api.addFile({
    method: 'post',
    path: '/items/:key/attachments',
    summary: 'Add a file: the body, with ?name=; at most 50 MB',
    type: 'application/json',
    answer: zAttachment,
    handle: async ({ ctx, who, params, koa }) => {
      const { name } = z.object({ name: z.string().min(1).max(500) }).parse({ ...koa.query })
      koa.body = await addAttachment(ctx, who, keyOf(params), { name, request: koa.req })
      koa.status = 201
    },
  })
  for (const kind of ['file', 'thumbnail'] as const) {
    api.addFile({
      method: 'get',
      path: `/items/:key/attachments/:attachmentId/${kind}`,
      summary: kind === 'file' ? 'The file; shown only when it is a picture' : 'Its thumbnail',
      type: 'application/octet-stream',
      handle: ({ ctx, params, koa }) => {
        const file = openAttachment(ctx, keyOf(params), params.attachmentId ?? '', kind)
        koa.set({
          'content-type': file.isShown ? file.mediaType : file.mediaType === 'text/plain' ? 'text/plain; charset=utf-8' : 'application/octet-stream',
          'content-disposition': `${file.isShown ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(file.name).replace(/['()*]/g, escape)}`,
          // Whatever the content is, it runs nothing and reaches nothing.
          'content-security-policy': "sandbox; default-src 'none'; img-src 'self'; style-src 'unsafe-inline'",
          'x-content-type-options': 'nosniff',
          'cache-control': 'private, max-age=31536000, immutable',
          etag: `"${file.sha256}"`,
        })
        koa.body = file.stream
      },
    })
  }
  api.add({
    method: 'delete',
    path: '/items/:key/attachments/:attachmentId',
    summary: 'Remove a file from an item',
    answer: zEmpty,
    handle: ({ ctx, who, params }) => {
      removeAttachment(ctx, who, keyOf(params), params.attachmentId ?? '')
      return {}
    },
  })
}

function addTimeRoutes(api: Api): void {
  api.add({
    method: 'get',
    path: '/items/:key/time',
    summary: 'Time spent',
    answer: zPage(zTimeEntry),
    handle: ({ ctx, params }) => ({ rows: listTime(ctx, keyOf(params)), nextCursor: null }),
  })
  api.add({
    method: 'post',
    path: '/items/:key/time',
    summary: 'Book time',
    body: zAddTime,
    answer: zPage(zTimeEntry),
    handle: ({ ctx, who, params, body }) => {
      addTime(ctx, who, keyOf(params), body)
      return { rows: listTime(ctx, keyOf(params)), nextCursor: null }
    },
  })
  api.add({
    method: 'delete',
    path: '/items/:key/time/*entryId',
    summary: 'Take a booking back',
    answer: zEmpty,
    handle: ({ ctx, who, params }) => {
      takeTimeBack(ctx, who, keyOf(params), params.entryId ?? '')
      return {}
    },
  })
  api.add({
    method: 'get',
    path: '/time',
    summary: 'Sums of time by item, person, milestone or week',
    query: zTimeQuery,
    answer: zTimeSums,
    handle: ({ ctx, who, query }) => readTimeSums(ctx, who, query),
  })
  api.addFile({
    method: 'get',
    path: '/time.csv',
    summary: 'Bookings as CSV',
    type: 'text/csv',
    handle: ({ ctx, who, koa }) => {
      koa.set({ 'content-type': 'text/csv; charset=utf-8', 'content-disposition': 'attachment; filename="time.csv"' })
      koa.body = timeAsCsv(ctx, who, zTimeQuery.parse({ ...koa.query }))
    },
  })
}

function addMoveRoutes(api: Api): void {
  api.add({
    method: 'post',
    path: '/items/:key/move',
    summary: 'Move to another project; the old key stays an alias',
    body: zMoveItem,
    answer: zItem,
    handle: ({ ctx, who, params, body }) => readItem(ctx, who, moveItem(ctx, who, keyOf(params), body.project)),
  })
  api.add({
    method: 'post',
    path: '/items/:key/copy',
    summary: 'Log a copy',
    answer: zItem,
    handle: ({ ctx, who, params }) => readItem(ctx, who, copyItem(ctx, who, keyOf(params))),
  })
  api.add({
    method: 'post',
    path: '/items/:key/follow',
    summary: 'Follow, or stop following',
    body: zFollow,
    answer: zItem,
    handle: thenItem((ctx, who, key, body) => follow(ctx, who, key, body.isOn)),
  })
  api.add({
    method: 'post',
    path: '/items/:key/reports',
    summary: 'Report the same again: it joins the item, and its reporter follows',
    body: zReportAgain,
    answer: zItem,
    handle: thenItem(reportAgain),
  })
  api.add({
    method: 'post',
    path: '/items-bulk',
    summary: 'Change many items alike',
    body: zBulk,
    answer: zBulkDone,
    handle: ({ ctx, who, body }) => changeMany(ctx, who, body),
  })
  api.add({
    method: 'post',
    path: '/items-bulk/undo',
    summary: 'Take a change of many items back, all at once',
    body: zBulkUndo,
    answer: zBulkDone,
    handle: ({ ctx, who, body }) => undoMany(ctx, who, body.seqs),
  })
  api.add({
    method: 'post',
    path: '/undo',
    summary: 'Take back one’s own last change, or the one named',
    body: zUndo,
    answer: zUndone,
    handle: ({ ctx, who, body }) => undo(ctx, who, body.seq),
  })
}

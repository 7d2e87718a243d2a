import type { Context } from 'koa'
import { openAttachment, type OpenedAttachment, listAttachments, addAttachment, removeAttachment } from './attachments.commands.js'
import type { Api } from '#platform/http/api'
import { listComments, addComment, previewDeeds, editComment, listRevisions, reactToComment } from './comments.commands.js'
import { keepPicture, openKeptPicture } from './pictures.commands.js'
import { listTime, addTime, takeTimeBack, readTimeSums, timeAsCsv } from './time.commands.js'
import { talkOperations } from '@dystracer/core/talk/wire'

export function addTalkRoutes(api: Api): void {
  api.handle(talkOperations.listComments, ({ ctx, params, query }) => listComments(ctx, params.key, query))
  api.handle(talkOperations.addComment, ({ ctx, who, params, body }) => ({ commentId: addComment(ctx, who, params.key, body) }))
  api.handle(talkOperations.previewComment, ({ ctx, who, params, body }) => previewDeeds(ctx, who, params.key, body.text))
  api.handle(talkOperations.editComment, ({ ctx, who, params, body }) => {
    editComment(ctx, who, { key: params.key, commentId: params.commentId, ...body })
    return {}
  })
  api.handle(talkOperations.listCommentRevisions, ({ ctx, params }) => ({ rows: listRevisions(ctx, params.key, params.commentId) }))
  api.handle(talkOperations.reactToComment, ({ ctx, who, params, body }) => {
    reactToComment(ctx, who, { key: params.key, commentId: params.commentId, ...body })
    return {}
  })
  api.handle(talkOperations.listAttachments, ({ ctx, params }) => ({ rows: listAttachments(ctx, params.key) }))
  api.handle(talkOperations.addAttachment, ({ ctx, who, params, query, koa }) =>
    addAttachment(ctx, who, params.key, { name: query.name, request: koa.req }),
  )
  api.handle(talkOperations.readAttachmentFile, ({ ctx, params, koa }) =>
    sendFile(koa, openAttachment(ctx, params.key, params.attachmentId, 'file')),
  )
  api.handle(talkOperations.readAttachmentThumbnail, ({ ctx, params, koa }) =>
    sendFile(koa, openAttachment(ctx, params.key, params.attachmentId, 'thumbnail')),
  )
  api.handle(talkOperations.keepPicture, ({ ctx, who, params, query, koa }) =>
    keepPicture(ctx, who, params.project, { name: query.name, request: koa.req }),
  )
  api.handle(talkOperations.readKeptPicture, ({ ctx, params, koa }) =>
    sendFile(koa, openKeptPicture(ctx, params.project, params.pictureId)),
  )
  api.handle(talkOperations.removeAttachment, ({ ctx, who, params }) => {
    removeAttachment(ctx, who, params.key, params.attachmentId)
    return {}
  })
  api.handle(talkOperations.listTime, ({ ctx, params }) => ({ rows: listTime(ctx, params.key), nextCursor: null }))
  api.handle(talkOperations.bookTime, ({ ctx, who, params, body }) => {
    addTime(ctx, who, params.key, body)
    return { rows: listTime(ctx, params.key), nextCursor: null }
  })
  api.handle(talkOperations.takeTimeBack, ({ ctx, who, params }) => {
    takeTimeBack(ctx, who, params.key, params.entryId)
    return {}
  })
  api.handle(talkOperations.readTimeSums, ({ ctx, who, query }) => readTimeSums(ctx, who, query))
  api.handle(talkOperations.exportTime, ({ ctx, who, query, koa }) => {
    koa.set({ 'content-type': 'text/csv; charset=utf-8', 'content-disposition': 'attachment; filename="time.csv"' })
    koa.body = timeAsCsv(ctx, who, query)
  })
}

function sendFile(koa: Context, file: OpenedAttachment): void {
  const fileName = encodeURIComponent(file.name).replace(/['()*]/g, escape)
  koa.set({
    'content-type': file.isShown
      ? file.mediaType
      : file.mediaType === 'text/plain'
        ? 'text/plain; charset=utf-8'
        : 'application/octet-stream',
    'content-disposition': `${file.isShown ? 'inline' : 'attachment'}; filename*=UTF-8''${fileName}`,
    // Whatever the content is, it runs nothing and reaches nothing.
    'content-security-policy': "sandbox; default-src 'none'; img-src 'self'; style-src 'unsafe-inline'",
    'x-content-type-options': 'nosniff',
    'cache-control': 'private, max-age=31536000, immutable',
    etag: `"${file.sha256}"`,
  })
  koa.body = file.stream
}

import { deliveryOperations } from '@dystracer/core/releases/delivery-wire'
import { readDelivery } from './delivery.views.js'
import Router from '@koa/router'
import { NOTE_READERS } from '@dystracer/core/releases/write-notes'
import type { ServiceContext } from '#platform/context'
import type { Api } from '#platform/http/api'
import { RateLimit } from '#platform/http/rate-limit'
import {
  askDeployment,
  approveDeployment,
  checkDeployment,
  passOverGates,
  takeAgreementBack,
  takeDeploymentBack,
  tellDeployment,
} from './deployments.commands.js'
import { removeEnvironment, setEnvironment } from './environments.commands.js'
import { readReleaseContents } from './contents.views.js'
import { readReleaseHealth } from './health.views.js'
import { makeRelease, readNextRelease } from './making.commands.js'
import { bundleOf } from './record-bundle.js'
import { signingKey } from '#subjects/people/index'
import { readRecord } from './record.views.js'
import {
  listPublishedNotes,
  notesFeed,
  publishNotes,
  readNotesPublication,
  readReleaseNotes,
  releaseNotesAsMarkdown,
  withdrawNotes,
  writeReleaseNote,
} from './notes.commands.js'
import { readReleaseBoard, readRelease } from './releases.views.js'
import { releaseContentsOperations, releasesPaths } from '@dystracer/core/releases/contents-wire'
import { releasesOperations } from '@dystracer/core/releases/wire'
import { withdrawRelease } from './withdrawing.commands.js'

/** The public notes of services as feeds: no account, no session. */
export function makeNotesRouter(ctx: ServiceContext): Router {
  const router = new Router()
  const byAddress = new RateLimit({ burst: 60, perMinute: 60 })
  router.get(releasesPaths.readNotesFeed.path, (koa) => {
    byAddress.take(koa.ip, ctx.nowMs())
    const service = (koa.params.name ?? '').replace(/\.atom$/, '')
    koa.set('cache-control', 'public, max-age=300')
    koa.body = notesFeed(ctx, service, NOTE_READERS.find((reader) => reader === koa.query.reader) ?? 'users')
    koa.type = 'application/atom+xml; charset=utf-8'
  })
  return router
}

export function addReleasesRoutes(api: Api): void {
  api.handle(deliveryOperations.readDelivery, ({ ctx, who, query }) => readDelivery(ctx, who, query.days))
  api.handle(releasesOperations.readReleaseBoard, ({ ctx, who }) => readReleaseBoard(ctx, who))
  api.handle(releasesOperations.readRelease, ({ ctx, who, params }) => readRelease(ctx, who, params.release))
  api.handle(releasesOperations.withdrawRelease, ({ ctx, who, params, body }) => {
    withdrawRelease(ctx, who, params.release, body)
    return readRelease(ctx, who, params.release)
  })
  api.handle(releaseContentsOperations.readReleaseContents, ({ ctx, who, params, query }) =>
    readReleaseContents(ctx, who, params.release, query.against),
  )
  api.handle(releaseContentsOperations.readNextRelease, ({ ctx, who, params, query }) =>
    readNextRelease(ctx, who, params.service, query.of),
  )
  api.handle(releaseContentsOperations.makeRelease, ({ ctx, who, params, body }) => makeRelease(ctx, who, params.service, body))
  api.handle(releaseContentsOperations.readReleaseHealth, ({ ctx, params }) => readReleaseHealth(ctx, params.release))
  api.handle(releaseContentsOperations.readReleaseNotes, ({ ctx, who, params, query }) =>
    readReleaseNotes(ctx, who, params.release, query.reader),
  )
  api.handle(releaseContentsOperations.exportReleaseNotes, async ({ ctx, who, params, query, koa }) => {
    koa.set('content-type', 'text/markdown; charset=utf-8')
    koa.body = await releaseNotesAsMarkdown(ctx, who, params.release, query.reader)
  })
  api.handle(releaseContentsOperations.exportReleaseRecord, ({ ctx, who, params, koa }) => {
    const record = readRecord(ctx, who, params.release)
    const name = `${record.release.service}-${record.release.name}.zip`.replace(/[^\w.-]/g, '_')
    koa.set({
      'content-type': 'application/zip',
      'content-disposition': `attachment; filename="${name}"`,
      'x-record-key': signingKey(ctx.db).fingerprint,
    })
    koa.body = bundleOf(ctx.db, record)
  })
  api.handle(releaseContentsOperations.readNotesPublication, ({ ctx, who, params, query }) =>
    readNotesPublication(ctx, who, params.release, query.reader),
  )
  api.handle(releaseContentsOperations.publishNotes, ({ ctx, who, params, body }) => publishNotes(ctx, who, params.release, body))
  api.handle(releaseContentsOperations.withdrawNotes, ({ ctx, who, params, query }) =>
    withdrawNotes(ctx, who, params.release, query.reader),
  )
  const byAddress = new RateLimit({ burst: 60, perMinute: 60 })
  api.handle(releaseContentsOperations.listPublishedNotes, ({ ctx, who, params, query, koa }) => {
    if (who.via === 'anonymous') byAddress.take(koa.ip, ctx.nowMs())
    return listPublishedNotes(ctx, who, params.service, query.reader)
  })
  api.handle(releaseContentsOperations.writeReleaseNote, ({ ctx, who, params, body }) => writeReleaseNote(ctx, who, params.release, body))
  api.handle(releasesOperations.askDeployment, async ({ ctx, who, body }) => {
    await askDeployment(ctx, who, body)
    return readReleaseBoard(ctx, who)
  })
  api.handle(releasesOperations.tellDeployment, ({ ctx, who, body }) => {
    tellDeployment(ctx, who, body)
    return readReleaseBoard(ctx, who)
  })
  api.handle(releasesOperations.takeDeploymentBack, ({ ctx, who, params }) => {
    takeDeploymentBack(ctx, who, params.id)
    return readReleaseBoard(ctx, who)
  })
  api.handle(releasesOperations.checkDeployment, async ({ ctx, who, params, body }) => {
    await checkDeployment(ctx, who, params.id, body)
    return readReleaseBoard(ctx, who)
  })
  api.handle(releasesOperations.takeAgreementBack, ({ ctx, who, params }) => {
    takeAgreementBack(ctx, who, params.id)
    return readReleaseBoard(ctx, who)
  })
  api.handle(releasesOperations.passOverGates, async ({ ctx, who, params, body }) => {
    await passOverGates(ctx, who, params.id, body.why)
    return readReleaseBoard(ctx, who)
  })
  api.handle(releasesOperations.approveDeployment, async ({ ctx, who, params }) => {
    await approveDeployment(ctx, who, params.id)
    return readReleaseBoard(ctx, who)
  })
  api.handle(releasesOperations.setEnvironment, ({ ctx, who, params, body }) => {
    setEnvironment(ctx, who, params.environment, body)
    return readReleaseBoard(ctx, who)
  })
  api.handle(releasesOperations.removeEnvironment, ({ ctx, who, params }) => {
    removeEnvironment(ctx, who, params.environment)
    return readReleaseBoard(ctx, who)
  })
}

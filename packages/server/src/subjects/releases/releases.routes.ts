import { deliveryOperations } from '@dystracer/core/releases/delivery-wire'
import { readDelivery } from './delivery.views.js'
import type { Api } from '#platform/http/api'
import { askDeployment, approveDeployment } from './deployments.commands.js'
import { removeEnvironment, setEnvironment } from './environments.commands.js'
import { readReleaseContents } from './contents.views.js'
import { readReleaseHealth } from './health.views.js'
import { makeRelease, readNextRelease } from './making.commands.js'
import { bundleOf, ownFingerprint } from './record-bundle.js'
import { readRecord } from './record.views.js'
import { readReleaseNotes, releaseNotesAsMarkdown, writeReleaseNote } from './notes.commands.js'
import { readReleaseBoard, readRelease } from './releases.views.js'
import { releaseContentsOperations } from '@dystracer/core/releases/contents-wire'
import { releasesOperations } from '@dystracer/core/releases/wire'
import { onlyVisible } from '#subjects/records/index'

export function addReleasesRoutes(api: Api): void {
  api.handle(deliveryOperations.readDelivery, ({ ctx, who, query }) => readDelivery(ctx, who, query.days))
  api.handle(releasesOperations.readReleaseBoard, ({ ctx, who }) => readReleaseBoard(ctx, who))
  api.handle(releasesOperations.readRelease, ({ ctx, who, params }) => {
    const release = readRelease(ctx, params.release)
    return { ...release, items: onlyVisible(ctx.db, who, release.items) }
  })
  api.handle(releaseContentsOperations.readReleaseContents, ({ ctx, who, params, query }) =>
    readReleaseContents(ctx, who, params.release, query.against),
  )
  api.handle(releaseContentsOperations.readNextRelease, ({ ctx, who, params }) => readNextRelease(ctx, who, params.service))
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
      'x-record-key': ownFingerprint(ctx.db),
    })
    koa.body = bundleOf(ctx.db, record)
  })
  api.handle(releaseContentsOperations.writeReleaseNote, ({ ctx, who, params, body }) => writeReleaseNote(ctx, who, params.release, body))
  api.handle(releasesOperations.askDeployment, async ({ ctx, who, body }) => {
    await askDeployment(ctx, who, body)
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

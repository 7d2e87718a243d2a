import type { Context } from 'koa'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import type { Api, Asked } from '#platform/http/api'
import { noteAudit, placeOf } from '#subjects/audit/index'
import { keyPairFor } from '#subjects/code/index'
import { leave } from './leaving.commands.js'
import { archiveProject, changeRepository, connectRepository, createProject } from './projects.commands.js'
import type { Operation } from '@dystracer/core/people/operation'
import { projectsOperations, type ConnectRepository } from '@dystracer/core/projects/wire'
import { requireRight } from '#subjects/people/index'
import { requireProject } from '#subjects/setup/index'

/** `sync` fetches the repository of a new project at once. */
export function addProjectsRoutes(
  api: Api,
  { sync }: { sync: { request(repository: string, cause: string): Promise<void>; callOff(repository: string): void } },
): void {
  const connect = async ({ ctx, who, koa }: Pick<Asked<Operation>, 'ctx' | 'who' | 'koa'>, project: string, input: ConnectRepository) => {
    const connected = await connectRepository(ctx, who, project, input)
    if (input.access.kind !== 'none') noteAccess(ctx, who, koa, connected.repository, input.access.kind)
    void sync.request(connected.repository, 'connected')
    return connected
  }
  api.handle(projectsOperations.connectRepository, (asked) => connect(asked, asked.params.project, asked.body))
  api.handle(projectsOperations.connectRepositoryFor, (asked) => {
    const { project, ...input } = asked.body
    requireProject(asked.ctx.db, project)
    requireRight(asked.who, 'setup.change', project)
    return connect(asked, project, input)
  })
  api.handle(projectsOperations.changeRepository, async ({ ctx, who, params, body, koa }) => {
    const changed = await changeRepository(ctx, who, params.repository, body)
    if (body.access) noteAccess(ctx, who, koa, params.repository, body.access.kind)
    sync.callOff(changed.repository)
    if (changed.isConnected) void sync.request(changed.repository, 'connected')
    return changed
  })
  api.handle(projectsOperations.archiveProject, ({ ctx, who, params, body, koa }) => {
    archiveProject(ctx, who, params.project, body.isArchived)
    noteAudit(ctx, {
      kind: body.isArchived ? 'project-archived' : 'project-opened',
      actor: who.actor,
      about: params.project,
      place: placeOf(koa),
    })
    return body
  })
  api.handle(projectsOperations.leaveProject, ({ ctx, who, params, body, koa }) => {
    const left = leave(ctx, who, params, body)
    const kind = body.closesAccount ? 'account-closed' : 'member-removed'
    noteAudit(ctx, { kind, actor: who.actor, about: params.personId, place: placeOf(koa), facts: { project: params.project } })
    return left
  })
  api.handle(projectsOperations.makeRepositoryKey, ({ ctx, who }) => {
    return keyPairFor(ctx, who.actor)
  })
  api.handle(projectsOperations.createProject, ({ ctx, who, body }) => {
    const made = createProject(ctx, who, body)
    if (made.repository !== null) void sync.request(made.repository, 'connected')
    return made
  })
}

function noteAccess(ctx: ServiceContext, who: Who, koa: Context, repository: string, kind: string): void {
  noteAudit(ctx, { kind: 'repository-access-given', actor: who.actor, about: repository, place: placeOf(koa), facts: { by: kind } })
}

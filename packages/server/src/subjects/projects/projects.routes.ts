import type { Api } from '#platform/http/api'
import { changeRepository, connectRepository, createProject } from './projects.commands.js'
import { projectsOperations } from '@dystracer/core/projects/wire'

/** `sync` fetches the repository of a new project at once. */
export function addProjectsRoutes(
  api: Api,
  { sync }: { sync: { request(repository: string, cause: string): Promise<void>; callOff(repository: string): void } },
): void {
  api.handle(projectsOperations.connectRepository, async ({ ctx, who, params, body }) => {
    const connected = await connectRepository(ctx, who, params.project, body)
    void sync.request(connected.repository, 'connected')
    return connected
  })
  api.handle(projectsOperations.changeRepository, async ({ ctx, who, params, body }) => {
    const changed = await changeRepository(ctx, who, params.repository, body)
    sync.callOff(changed.repository)
    if (changed.isConnected) void sync.request(changed.repository, 'connected')
    return changed
  })
  api.handle(projectsOperations.createProject, ({ ctx, who, body, koa }) => {
    const made = createProject(ctx, who, body)
    if (made.repository !== null) void sync.request(made.repository, 'connected')
    koa.status = 201
    return made
  })
}

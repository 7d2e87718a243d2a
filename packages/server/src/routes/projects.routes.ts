import { zProjectSetup } from '@dystracer/core/setup/wire'
import { zAddComponent } from '@dystracer/core/setup/wire'
import { zInvite, zInvited } from '@dystracer/core/people/wire'
import { zNewProject, zProjectMade } from '@dystracer/core/projects/wire'
import { invitePerson } from '#subjects/people/accounts.commands'
import { addComponent } from '#subjects/setup/components.commands'
import { createProject } from '#subjects/projects/projects.commands'
import type { RepositorySync } from '#subjects/sync/repository-sync'
import { readSetup } from '#subjects/setup/setup.commands'
import type { Api } from '#platform/http/api'

/** Making projects, and bringing components and people into them. */
export function addProjectRoutes(api: Api, { sync }: { sync: RepositorySync }): void {
  api.add({
    method: 'post',
    path: '/projects',
    summary: 'Make a project, with its first component, repository and item if they are named',
    body: zNewProject,
    answer: zProjectMade,
    handle: ({ ctx, who, body, koa }) => {
      const made = createProject(ctx, who, body)
      if (made.repository !== null) void sync.request(made.repository, 'connected')
      koa.status = 201
      return made
    },
  })
  api.add({
    method: 'put',
    path: '/projects/:project/components',
    summary: 'Add a component, or change who keeps it',
    body: zAddComponent,
    answer: zProjectSetup,
    handle: ({ ctx, who, params, body }) => {
      const project = params.project ?? ''
      addComponent(ctx, who, project, body)
      return readSetup(ctx.db, project)
    },
  })
  api.add({
    method: 'post',
    path: '/projects/:project/people',
    summary: 'Invite somebody by mail',
    body: zInvite,
    answer: zInvited,
    handle: async ({ ctx, who, params, body }) => {
      const project = params.project ?? ''
      return { personId: await invitePerson(ctx, who, { ...body, project }) }
    },
  })
}

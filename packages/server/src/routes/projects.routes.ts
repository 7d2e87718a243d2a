import { zProjectSetup } from '@dystracer/core/contract/items'
import { zAddComponent, zInvite, zInvited, zNewProject, zProjectMade } from '@dystracer/core/contract/projects'
import { invitePerson } from '../services/accounts.service.js'
import { addComponent, createProject } from '../services/projects.service.js'
import type { RepositorySync } from '../services/repository-sync.js'
import { readSetup } from '../services/setup.service.js'
import type { Api } from './api.js'

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

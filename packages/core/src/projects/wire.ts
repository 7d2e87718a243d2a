import { operation } from '#people/operation'
import { zProjectName, zProjectPrefix } from '#people/wire'
import { z } from 'zod'

/** A project from nothing: only its name and prefix are needed. */
export const zNewProject = z.strictObject({
  name: zProjectName,
  prefix: zProjectPrefix,
  component: z.string().trim().min(1).max(100).nullable().default(null),
  firstItem: z.string().trim().min(1).max(200).nullable().default(null),
  repositoryUrl: z
    .url({ protocol: /^(?:https?|ssh|git)$/, error: 'An address such as https://code.example.org/team/program.git' })
    .max(500)
    .nullable()
    .default(null),
})
export type NewProject = z.output<typeof zNewProject>
export const zProjectMade = z.object({ prefix: z.string(), firstItem: z.string().nullable(), repository: z.string().nullable() })

/** What can be asked of projects. */
export const projectsOperations = {
  createProject: operation({
    method: 'post',
    path: '/projects',
    summary: 'Make a project, with its first component, repository and item if they are named',
    may: 'projects.make',
    about: 'nothing',
    isPersonal: true,
    body: zNewProject,
    answer: zProjectMade,
  }),
}

import { operation } from '#people/operation'
import { zProjectName, zProjectPrefix } from '#people/wire'
import { z } from 'zod'

/** Where git finds a repository: an address on the net, or a path on the server's machine where its operator allows that. */
export const zRepositoryAddress = z
  .string()
  .trim()
  .max(500)
  .refine((text) => !/^(?:ssh:|[\w.-]+@[\w.-]+:)/.test(text), {
    abort: true,
    error: 'Repositories by ssh cannot be read yet: give an https or git address, or a path',
  })
  .refine((text) => !/^https?:\/\/[^/]*@/.test(text), {
    abort: true,
    error: 'Leave the name and password out: repositories behind a login cannot be read yet',
  })
  .refine(
    (text) => /^\/[^\0]+$/.test(text) || z.url({ protocol: /^(?:https?|git)$/ }).safeParse(text).success,
    'An address such as https://code.example.org/team/program.git',
  )
/** The address of a repository to read. */
export const zConnectRepository = z.strictObject({ url: zRepositoryAddress })
/** What becomes of a connected repository: it lies elsewhere now, or is read no more, or again. */
export const zChangeRepository = z
  .strictObject({ url: zRepositoryAddress.optional(), isConnected: z.boolean().optional() })
  .refine(({ url, isConnected }) => url !== undefined || isConnected !== undefined, {
    path: ['url'],
    message: 'Say where it lies, or whether it is read',
  })
/** A project from nothing: only its name and prefix are needed. */
export const zNewProject = z.strictObject({
  name: zProjectName,
  prefix: zProjectPrefix,
  component: z.string().trim().min(1).max(100).nullable().default(null),
  firstItem: z.string().trim().min(1).max(200).nullable().default(null),
  repositoryUrl: zRepositoryAddress.nullable().default(null),
})
/** The checked address of a repository. */
export type ConnectRepository = z.output<typeof zConnectRepository>
/** A project to begin. */
export type NewProject = z.output<typeof zNewProject>
/** The project that was made, and its first item and repository where they were asked for. */
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
  connectRepository: operation({
    method: 'post',
    path: '/projects/:project/repositories',
    summary: 'Connect a repository: it is asked for its main line first, then its history is read',
    may: 'setup.change',
    about: 'project',
    body: zConnectRepository,
    answer: z.object({ repository: z.string(), mainBranch: z.string(), isEmpty: z.boolean() }),
    status: 201,
  }),
  changeRepository: operation({
    method: 'patch',
    path: '/repositories/:repository',
    summary: 'Say that a repository lies elsewhere, is read no more, or is read again; what was read of it stays',
    may: 'setup.change',
    about: 'repository',
    body: zChangeRepository,
    answer: z.object({ repository: z.string(), mainBranch: z.string(), isConnected: z.boolean() }),
  }),
}

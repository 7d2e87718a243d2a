import { operation } from '#people/operation'
import { zRepositoryAccessInput } from '#code/wire'
import { zProjectName, zProjectPrefix } from '#people/wire'
import { z } from 'zod'

/** `name@host:path`, as git takes it for ssh. A name or host that begins with a hyphen could pass for an option. */
const SHORT_SSH = /^\w[\w.-]*@\w[\w.-]*:(?!\/\/)[^\0\s]+$/
/** Where git finds a repository: an address on the net, or a path on the server's machine where its operator allows that. */
export const zRepositoryAddress = z
  .string()
  .trim()
  .max(500)
  // A path on the server may be said as an address, too.
  .overwrite((text) => text.replace(/^file:\/\/(?=\/)/, ''))
  .refine((text) => !/^(?:https?|git):\/\/[^/]*@/.test(text) && !/^ssh:\/\/[^/]*:[^/]*@/.test(text), {
    abort: true,
    error: 'Leave the name and password out of the address: they are kept apart from it, below',
  })
  .refine(
    (text) =>
      /^\/[^\0]+$/.test(text) ||
      SHORT_SSH.test(text) ||
      (z.url({ protocol: /^(?:https?|git|ssh)$/ }).safeParse(text).success && !/\/\/-|@-/.test(text)),
    'An address such as https://code.example.org/team/program.git or git@code.example.org:team/program.git',
  )
/** The address of a repository to read, and what proves that it may be read. */
export const zConnectRepository = z.strictObject({
  url: zRepositoryAddress,
  access: zRepositoryAccessInput.default({ kind: 'none' }),
})
const zBranchName = z.string().trim().min(1).max(250)
/** What becomes of a connected repository: it lies elsewhere now, is read no more or again, or another branch is its main line. */
export const zChangeRepository = z
  .strictObject({
    url: zRepositoryAddress.optional(),
    isConnected: z.boolean().optional(),
    access: zRepositoryAccessInput.optional(),
    mainBranch: zBranchName.optional(),
    longLines: z.array(zBranchName).max(20).optional(),
  })
  .refine((input) => Object.keys(input).length > 0, {
    path: ['url'],
    message: 'Say where it lies, how it is read, whether it is, or which is its main line',
  })
/** A project from nothing: only its name and prefix are needed. */
export const zNewProject = z.strictObject({
  name: zProjectName,
  prefix: zProjectPrefix,
  component: z.string().trim().min(1).max(100).nullable().default(null),
  firstItem: z.string().trim().min(1).max(200).nullable().default(null),
  repositoryUrl: zRepositoryAddress.nullable().default(null),
  /** Who administers it, by id or address; left out it is whoever makes it, which a program cannot be. */
  administrator: z.string().trim().min(1).max(200).optional(),
})
/** The checked address of a repository. */
export type ConnectRepository = z.output<typeof zConnectRepository>
/** What is to change of a connected repository. */
export type ChangeRepository = z.output<typeof zChangeRepository>
/** A project to begin. */
export type NewProject = z.output<typeof zNewProject>
/** The project that was made, and its first item and repository where they were asked for. */
export const zProjectMade = z.object({ prefix: z.string(), firstItem: z.string().nullable(), repository: z.string().nullable() })

/** Somebody leaves a project, or altogether; what was theirs and is not done goes to whoever takes over. */
export const zLeave = z.strictObject({ handOverTo: z.string().max(100).nullable(), closesAccount: z.boolean().default(false) })
export type Leave = z.output<typeof zLeave>
/** How much was handed over. */
export const zLeft = z.object({ items: z.number().int(), components: z.number().int(), weeks: z.number().int() })
export type Left = z.infer<typeof zLeft>

const zConnected = z.object({
  repository: z.string(),
  /** The service that is built from it in this project. */
  service: z.string(),
  mainBranch: z.string(),
  isEmpty: z.boolean(),
})

/** What can be asked of projects. */
export const projectsOperations = {
  createProject: operation({
    status: 201,
    method: 'post',
    path: '/projects',
    summary: 'Make a project, with its first component, repository and item if they are named',
    may: 'projects.make',
    about: 'nothing',
    body: zNewProject,
    answer: zProjectMade,
    problems: ['outside-unreachable'],
  }),
  archiveProject: operation({
    method: 'put',
    path: '/projects/:project/archived',
    summary: 'Archive a project, so that it is read and changed no more, or open it again',
    may: 'projects.archive',
    about: 'project',
    body: z.strictObject({ isArchived: z.boolean() }),
    answer: z.object({ isArchived: z.boolean() }),
  }),
  connectRepository: operation({
    method: 'post',
    path: '/projects/:project/repositories',
    summary: 'Connect a repository: it is asked for its main line first, then its history is read',
    may: 'setup.change',
    about: 'project',
    isSecret: true,
    body: zConnectRepository,
    answer: zConnected,
    status: 201,
    problems: ['outside-unreachable'],
  }),
  connectRepositoryFor: operation({
    method: 'post',
    path: '/repositories',
    summary: 'The same for a script, which names the project beside the address',
    may: 'setup.change',
    about: 'nothing',
    isSecret: true,
    body: zConnectRepository.extend({ project: z.string().min(1).max(10) }),
    answer: zConnected,
    status: 201,
    problems: ['outside-unreachable'],
  }),
  makeRepositoryKey: operation({
    method: 'post',
    path: '/projects/:project/repository-keys',
    summary: 'Make a pair of ssh keys for a repository that is to be connected; gives the public half',
    may: 'setup.change',
    about: 'project',
    isPersonal: true,
    answer: z.object({ keyId: z.string(), publicKey: z.string() }),
    status: 201,
  }),
  leaveProject: operation({
    method: 'post',
    path: '/projects/:project/people/:personId/leaving',
    summary: 'Take a member out and hand over what is theirs and not done; or close their account altogether',
    may: 'people.invite',
    about: 'project',
    body: zLeave,
    answer: zLeft,
  }),
  changeRepository: operation({
    method: 'patch',
    path: '/repositories/:repository',
    summary: 'Say that a repository lies elsewhere, is read no more or again, or which are its main lines; what was read of it stays',
    may: 'setup.change',
    about: 'repository',
    isSecret: true,
    body: zChangeRepository,
    answer: z.object({
      repository: z.string(),
      mainBranch: z.string(),
      longLines: z.array(z.string()),
      isConnected: z.boolean(),
      /** What it is called where it lies; reports and events that name it so are taken for it. */
      calledThere: z.string(),
    }),
  }),
}

import { operation } from '#people/operation'
import { z } from 'zod'

/** A project from nothing: only its name and prefix are needed. */
export const zNewProject = z.strictObject({
  name: z.string().trim().min(1, 'A name is needed').max(60),
  prefix: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^[A-Z][A-Z0-9]{1,9}$/, 'Two to ten letters and digits, a letter first'),
  component: z.string().trim().min(1).max(100).nullable().default(null),
  firstItem: z.string().trim().min(1).max(200).nullable().default(null),
  repositoryUrl: z
    .url({ protocol: /^(?:https?|ssh|git)$/, error: 'An address such as https://code.example/kiln.git' })
    .max(500)
    .nullable()
    .default(null),
})
export type NewProject = z.output<typeof zNewProject>
export const zProjectMade = z.object({ prefix: z.string(), firstItem: z.string().nullable(), repository: z.string().nullable() })
/** A prefix that a name suggests: its initials, or the beginning of its only word. */
export function suggestPrefix(name: string): string {
  const words = name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toUpperCase()
    .match(/[A-Z0-9]+/g)
  if (!words) return ''
  const letters = words.length > 1 ? words.map((word) => word[0]).join('') : (words[0] ?? '').slice(0, 3)
  return letters.replace(/^[0-9]+/, '').slice(0, 5)
}

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

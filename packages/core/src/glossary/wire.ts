import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

/** A word of a project. */
export const zTerm = z.object({
  term: z.string(),
  meaning: z.string(),
  /** Words that are said by mistake where this one is meant. */
  instead: z.array(z.string()),
  by: z.string(),
  atMs: zAtMs,
})
export type GlossaryTerm = z.infer<typeof zTerm>

const zWord = z.string().trim().min(1, 'Write a word').max(60)
/** What a word means; `before` is how it was called so far, where that changes. */
export const zSetTerm = z.strictObject({
  term: zWord,
  meaning: z.string().trim().min(1, 'Say what it means').max(2000),
  instead: z.array(zWord).max(20).default([]),
  before: zWord.nullable().default(null),
})
/** The same, with nothing left open. */
export type SetTerm = z.output<typeof zSetTerm>

const answer = z.object({ rows: z.array(zTerm) })
const PATH = '/projects/:project/glossary'

/** What can be asked of the glossary; how texts keep to it follows by `findTermTrouble`. */
export const glossaryOperations = {
  listTerms: operation({
    method: 'get',
    path: PATH,
    summary: 'The words of a project, what each means, and what is said in its place by mistake',
    may: 'project.read',
    about: 'project',
    answer,
  }),
  setTerm: operation({
    method: 'put',
    path: PATH,
    summary: 'Say what a word means; a word that is known means this from now on',
    may: 'requirements.write',
    about: 'project',
    body: zSetTerm,
    answer,
  }),
  removeTerm: operation({
    method: 'delete',
    path: PATH,
    summary: 'Take a word out of the glossary',
    may: 'requirements.write',
    about: 'project',
    query: z.object({ term: zWord }),
    answer,
  }),
}

import { requireRight, requireRightInOneOf, projectOf } from '#subjects/people/access'
import { projectsOfThing, mayReadThing } from '#subjects/records/things'
import { resolveKey } from '#subjects/records/visibility'
import { projectOfImport } from '#subjects/imports/imports.commands'
import { serviceOfDeployment } from '#subjects/releases/deployments.commands'
import { requireProject } from '#subjects/setup/setup.commands'
import { Problem } from '@dystracer/core/basics/problem'
import type { About } from '@dystracer/core/people/operation'
import { mayAnywhere } from '@dystracer/core/people/standing'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import type { Gatekeeper } from '#platform/http/api'

/** How long a password counts for what gives somebody a way in. */
const PROOF_LASTS_MS = 30 * 60_000

interface Place {
  /** The projects of the thing; none where no project has claimed it. */
  projects: string[]
  params?: Record<string, string>
}
type Params = Readonly<Record<string, string>>

/** Where each kind of thing belongs. Throws `not-found` for what is not there, and in the same words for what the asker may not see. */
const PLACE_OF: Record<About, (ctx: ServiceContext, who: Who, params: Params) => Place> = {
  nothing: () => ({ projects: [] }),
  project: ({ db }, who, { project = '' }) => {
    if (!mayReadThing(db, who, { kind: 'project', id: project }))
      throw new Problem('not-found', { detail: `There is no project ${project}.` })
    requireProject(db, project)
    return { projects: [project] }
  },
  item: ({ db }, who, { key = '' }) => {
    const current = resolveKey(db, who, key)
    const project = projectOf(current)
    if (!mayReadThing(db, who, { kind: 'project', id: project })) throw new Problem('not-found', { detail: `There is no item ${current}.` })
    return { projects: [project], params: { key: current } }
  },
  fault: thing('fault', ({ fault = '' }) => fault),
  service: thing('service', ({ service = '' }) => service),
  repository: thing('repository', ({ repository = '' }) => repository),
  requirement: thing('requirement', ({ key = '' }) => key.toUpperCase()),
  release: thing('release', ({ release = '' }) => release),
  deployment: (ctx, who, { id = '' }) => thing('service', () => serviceOfDeployment(ctx, id))(ctx, who, {}),
  import: (ctx, _who, { importId = '' }) => {
    const project = projectOfImport(ctx, importId)
    if (project === '') throw new Problem('not-found', { detail: 'There is no such import.' })
    return { projects: [project] }
  },
}

function thing(kind: string, idOf: (params: Params) => string) {
  return ({ db }: ServiceContext, who: Who, params: Params): Place => {
    const ref = { kind, id: idOf(params) }
    if (!mayReadThing(db, who, ref)) throw new Problem('not-found', { detail: `There is no ${kind} ${ref.id}.` })
    return { projects: projectsOfThing(db, ref) }
  }
}

/** Lets people in to operations by their rights in the projects of the things that are asked for. */
export function makeGatekeeper(ctx: ServiceContext): Gatekeeper {
  return ({ declared, who, params }) => {
    if (declared.may !== 'anyone') requireReader(who)
    if (declared.isPersonal) requirePerson(who)
    const place = PLACE_OF[declared.about](ctx, who, params)
    if (declared.may !== 'anyone' && declared.may !== 'member-of-any') {
      const [only, ...others] = place.projects
      if (only !== undefined && others.length === 0) requireRight(who, declared.may, only)
      else requireRightInOneOf(who, declared.may, place.projects)
    }
    if (declared.asksAgain) requireFreshProof(who, ctx.nowMs())
    return { ...params, ...place.params }
  }
}

/**
 * What belongs to a person alone (an inbox, notes, tokens) is for them where they have signed in: a token,
 * even their own, has none of it.
 */
function requirePerson(who: Who): void {
  if (who.personId !== null && who.via === 'session') return
  if (who.via === 'anonymous')
    throw new Problem('sign-in-required', { detail: 'You are reading as a guest. Sign in to do this; nothing was changed.' })
  throw new Problem('not-allowed', { detail: 'This belongs to a person; a token has none of it.' })
}

/** A session that nobody has watched for a while may be in other hands: an open browser gives nobody a lasting key. */
function requireFreshProof(who: Who, nowMs: number): void {
  if (who.provenAtMs === null || nowMs - who.provenAtMs < PROOF_LASTS_MS) return
  throw new Problem('proof-needed', { detail: 'It is a while since you signed in. Type your password once more; nothing was changed.' })
}

function requireReader(who: Who): void {
  if (mayAnywhere(who, 'project.read')) return
  if (who.via === 'anonymous') throw new Problem('sign-in-required')
  throw new Problem('not-allowed', {
    detail: who.via === 'token' ? 'This token may not read.' : 'You belong to no project yet. Ask a lead to invite you.',
  })
}

import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { PlaceGate } from '@dystracer/core/places/gates'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { gatesOfPlace } from './place-gates.js'
import { HAS_PLACE } from './places.queries.js'

/** Several freezes and checks make sense in one place; of anything else two would say the same twice, or contradict each other. */
const SEVERAL: readonly PlaceGate['kind'][] = ['freeze', 'check']

/** Says what has to hold before a release may come to an environment. Throws `not-found`, `invalid-input` for what contradicts itself. */
export function setPlaceGates(ctx: ServiceContext, who: Who, environment: string, gates: PlaceGate[]): void {
  if (!sql(ctx.db, HAS_PLACE).get({ environment })) throw new Problem('not-found', { detail: `There is no environment ${environment}.` })
  const wrong = gates.flatMap((gate, at) => troubleOf(gate, gates.slice(0, at)) ?? [])[0]
  if (wrong !== undefined) throw new Problem('invalid-input', { fields: { gates: wrong } })
  if (JSON.stringify(gatesOfPlace(ctx, environment)) === JSON.stringify(gates)) return
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'place-gates-set',
      actor: who.actor,
      subjects: [`environment:${environment}`],
      body: { environment, gates },
    })
  })
}

function troubleOf(gate: PlaceGate, before: readonly PlaceGate[]): string | null {
  const like = before.filter(({ kind }) => kind === gate.kind)
  if (like.length > 0 && !SEVERAL.includes(gate.kind)) return `There are two gates of the kind ${gate.kind}`
  if (gate.kind === 'check' && like.some((one) => one.kind === 'check' && one.words === gate.words))
    return `“${gate.words}” stands there twice`
  if (gate.kind === 'freeze' && gate.to < gate.from) return `A freeze ends before it begins: ${gate.from} to ${gate.to}`
  if (gate.kind === 'window' && gate.from === gate.to) return 'The window opens and closes at the same time'
  if (gate.kind === 'agreed' && gate.among.length > 0 && gate.among.length < gate.people)
    return `${gate.people} are to agree, and ${gate.among.length} are named`
  return null
}

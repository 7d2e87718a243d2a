import { USE_BY_FIELD } from '@dystracer/core/setup/item-fields'
import { Problem } from '@dystracer/core/basics/problem'
import { fieldUseOf } from '@dystracer/core/setup/field-use'
import { whyNotOwnValue, type OwnValue } from '@dystracer/core/setup/own-field'
import { missingFor } from '@dystracer/core/setup/stage-rule'
import type { Db } from '#platform/db/open'
import { readSetup } from './setup.commands.js'
import { isPerson } from '#subjects/people/index'

/** What a refusal asks for, by the names that types and stage rules use. */
const WORD: Record<string, string> = {
  requirement: 'a requirement',
  ...Object.fromEntries(Object.values(USE_BY_FIELD).map((use) => [use.name, use.asks])),
}

/** Holds own values against their fields; gives back nothing. Throws `invalid-input` naming each wrong one. */
export function checkOwnValues(db: Db, project: string, values: Readonly<Record<string, OwnValue>>): void {
  const entries = Object.entries(values)
  if (entries.length === 0) return
  const { ownFields } = readSetup(db, project)
  const wrong = entries.flatMap(([fieldId, value]) => {
    const field = ownFields.find((entry) => entry.fieldId === fieldId)
    const why = field ? whyNotOwnValue(field, value, (personId) => isPerson(db, personId)) : 'This project has no such field'
    return why ? [[`ownValues.${fieldId}`, why] as const] : []
  })
  if (wrong.length > 0) throw new Problem('invalid-input', { fields: Object.fromEntries(wrong) })
}

/** A type that the project has, with what it asks for filled in. Throws `invalid-input` by field. */
export function checkType(db: Db, project: string, type: string, values: Readonly<Record<string, unknown>>): void {
  const setup = readSetup(db, project)
  const definition = setup.types.find((entry) => entry.type === type)
  if (!definition)
    throw new Problem('invalid-input', {
      fields: { type: `This project has no type ${type}; it has ${setup.types.map((entry) => entry.type).join(', ')}` },
    })
  const required = Object.keys(definition.fields).filter((field) => fieldUseOf(definition, field) === 'required')
  const missing = missingFor({ stage: 'logged', needs: required }, values)
  if (missing.length > 0)
    throw new Problem('invalid-input', {
      fields: Object.fromEntries(missing.map((field) => [field, `A ${type} needs ${WORD[field] ?? field}`])),
    })
}

/** Refuses a stage whose rule is not met, in words that say how to meet it. Throws `gate-closed` with `facts.missing`. */
export function requireStageRule(db: Db, project: string, stage: string, values: Readonly<Record<string, unknown>>): void {
  const rule = readSetup(db, project).stageRules.find((entry) => entry.stage === stage)
  const missing = rule ? missingFor(rule, values) : []
  if (missing.length === 0) return
  throw new Problem('gate-closed', {
    detail:
      `In this project, ` +
      `"${stage}" needs ` +
      `${missing.map((field) => WORD[field] ?? field).join(' and ')}. Fill ${missing.length === 1 ? 'it' : 'them'} in ` +
      `and try again; nothing was changed.`,
    facts: { missing, stage },
  })
}

import type { QualityRule } from '@dystracer/core/quality/quality-rule'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { isPerson } from '#subjects/people/index'
import { readSetup, requireProject } from '#subjects/setup/index'

/** Sets the rules of a project anew; they hold for what comes. Throws `invalid-input` for two of one id, and what it has not. */
export function setQualityRules(ctx: ServiceContext, who: Who, project: string, rules: readonly QualityRule[]): void {
  requireProject(ctx.db, project)
  const fields = problemsOf(ctx, project, rules)
  if (Object.keys(fields).length > 0) throw new Problem('invalid-input', { fields })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'quality-rules-set', actor: who.actor, subjects: [`project:${project}`], body: { project, rules: [...rules] } })
  })
}

function problemsOf(ctx: ServiceContext, project: string, rules: readonly QualityRule[]): Record<string, string> {
  const setup = readSetup(ctx.db, project)
  const fields: Record<string, string> = {}
  rules.forEach((rule, at) => {
    const say = (field: keyof QualityRule, text: string) => {
      fields[`rules.${at}.${field}`] = text
    }
    if (rules.findIndex((other) => other.ruleId === rule.ruleId) < at) say('ruleId', 'Another rule is called so')
    if (!setup.types.some((type) => type.type === rule.type)) say('type', `${project} has no type ${rule.type}`)
    if (rule.milestone !== null && !setup.milestones.some((milestone) => milestone.name === rule.milestone))
      say('milestone', `${project} has no milestone ${rule.milestone}`)
    if (rule.component !== null && !setup.components.some(({ name }) => name === rule.component))
      say('component', `${project} has no component ${rule.component}`)
    if (rule.ownerId !== null && !isPerson(ctx.db, rule.ownerId)) say('ownerId', 'There is no such person')
    if (rule.tellIds.some((personId) => !isPerson(ctx.db, personId))) say('tellIds', 'One of them is no person here')
  })
  return fields
}

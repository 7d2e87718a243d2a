import { placeOf } from '#subjects/quality/index'
import { asideTrouble } from '@dystracer/core/basics/days'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { logItem } from '#subjects/items/index'
import { readFailures, requireBuild } from './failures.views.js'

interface TestOf {
  suite: string
  name: string
}

/** Says that the asker sees to a failing test of the build's branch, or does not any more. Throws `not-found`. */
export function takeFailure(
  ctx: ServiceContext,
  who: Who,
  { repository, number }: { repository: string; number: number },
  { suite, name, isOn, note }: TestOf & { isOn: boolean; note: string },
): void {
  const { branch } = requireBuild(ctx, repository, number)
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'failure-taken',
      actor: who.actor,
      subjects: [`build:${repository}/${number}`],
      body: { repository, branch, suite, name, personId: isOn ? who.personId : null, note },
    })
  })
}

/**
 * Sets a test aside until a day, or counts it again; the day may not be over, nor more than a
 * quarter of a year away. Throws `invalid-input`.
 */
export function setAside(
  ctx: ServiceContext,
  who: Who,
  repository: string,
  { suite, name, until, why }: TestOf & { until: string | null; why: string },
): void {
  const trouble = until === null ? null : asideTrouble(until, ctx.nowMs())
  if (trouble !== null) throw new Problem('invalid-input', { fields: { until: trouble } })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'test-set-aside',
      actor: who.actor,
      subjects: [`repository:${repository}`],
      body: { repository, suite, name, untilDay: until, why },
    })
  })
}

/** Logs an item for a failing test, with what it says, since when, and which commits are suspected. Gives its key. Throws `not-found`. */
export async function logFailure(
  ctx: ServiceContext,
  who: Who,
  { repository, number }: { repository: string; number: number },
  { suite, name }: TestOf,
): Promise<{ key: string }> {
  const build = requireBuild(ctx, repository, number)
  const { groups } = await readFailures(ctx, who, repository, number)
  const group = groups.find(({ tests }) => tests.some((test) => test.suite === suite && test.name === name))
  const test = group?.tests.find((each) => each.suite === suite && each.name === name)
  const place = placeOf(ctx, repository)
  if (!group || !test) throw new Problem('not-found', { detail: `The test “${name}” does not fail in build ${build.name}.` })
  if (!place) throw new Problem('conflict', { detail: `No project has a service of ${repository}, so there is nowhere to log it.` })
  const others = group.tests.length - 1
  const description = [
    `The test “${name}”${suite ? ` of ${suite}` : ''} fails in ${repository} since build ` +
      `${group.since.name}${others > 0 ? `, and ${others} more with it` : ''}.`,
    `\`\`\`\n${test.message.slice(0, 3000)}\n\`\`\``,
    group.suspects.length > 0
      ? `Perhaps brought in ` +
        `by:\n\n${group.suspects.map(({ sha, subject, author }) => `- ${sha.slice(0, 12)} ${subject} (${author})`).join('\n')}`
      : '',
  ]
    .filter(Boolean)
    .join('\n\n')
  const title = group.place ? `${name}: fails in ${group.place.function ?? group.place.file}` : `${name} fails`
  const key = logItem(ctx, who, { ...place, type: 'defect', title: title.slice(0, 200), description })
  return { key }
}

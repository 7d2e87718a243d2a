import type { TestResultBody, ToldOutcome } from '@dystracer/core/builds/events'
import { kindOf, outcomeOf, ownAdditions, readArtefact, type CdEvent } from '@dystracer/core/incoming/cd-event'
import type { Who } from '@dystracer/core/people/who'
import { parseReferences } from '@dystracer/core/text/references'
import type { ServiceContext } from '#platform/context'
import type { JournalWriter } from '#platform/journal/journal'
import { itemsOfBuild, numberOfBuild } from '#subjects/builds/index'
import { judgeCoverage, judgeTests } from '#subjects/quality/index'
import { keyPrefixes } from '#subjects/records/index'
import { placeEvent } from './places.js'

/** What a message says of the build that it is about; commit and branch are empty where it does not say them. */
interface ToldBuild {
  repository: string
  number: number
  sha: string
  branch: string
}
interface Entry {
  actor: string
  atMs: number
  subjects: string[]
  source: string
  idempotencyKey: string
}

/** A build, a pipeline, or a task that belongs to none began, waits or ended. */
export function tellBuild(ctx: ServiceContext, who: Who | null, event: CdEvent): null {
  const { predicate } = kindOf(event)
  writeOfBuild(ctx, who, event, nameOfBuild(event), (writer, build, entry) => {
    if (predicate === 'started' || predicate === 'queued') writer.append({ ...entry, kind: 'build-started', body: build })
    else if (predicate === 'finished') {
      const startedAtMs = ownAdditions(event).startedAtMs ?? entry.atMs
      writer.append({ ...entry, kind: 'build-finished', body: { ...build, state: outcomeOf(event), startedAtMs } })
    }
    return predicate === 'finished'
  })
  return null
}

/** A task of a pipeline, or a suite of tests of one, is a step of its build. */
export function tellStep(ctx: ServiceContext, who: Who | null, event: CdEvent): null {
  const { content, id } = event.subject
  const { subject, predicate } = kindOf(event)
  const name = (subject === 'testsuiterun' ? (content.testSuite?.name ?? content.testSuite?.id) : content.taskName) ?? id
  writeOfBuild(ctx, who, event, content.pipelineRun?.id ?? null, (writer, build, entry) => {
    const isEnd = predicate === 'finished'
    writer.append({
      ...entry,
      kind: 'build-step-told',
      body: {
        repository: build.repository,
        build: build.number,
        step: id,
        name,
        parent: ownAdditions(event).parent ?? null,
        startedAtMs: isEnd ? null : entry.atMs,
        finishedAtMs: isEnd ? entry.atMs : null,
        outcome: isEnd ? outcomeOf(event) : null,
      },
    })
    return false
  })
  return null
}

const OUTCOME_OF_CASE: Record<ToldOutcome, TestResultBody['outcome']> = { passed: 'passed', broke: 'failed', stopped: 'skipped' }

/** One test ran, or was passed over: a result of its build. */
export function tellTestCase(ctx: ServiceContext, who: Who | null, event: CdEvent): string | null {
  const { predicate } = kindOf(event)
  if (predicate !== 'finished' && predicate !== 'skipped') return 'Only what became of a test is kept, not that it began.'
  const { content, id } = event.subject
  const outcome = predicate === 'skipped' ? 'stopped' : outcomeOf(event)
  if (outcome === null) return 'The message does not say how the test ended.'
  const name = (content.testCase?.name ?? content.testCase?.id ?? id).slice(0, 500)
  const references = parseReferences(name, keyPrefixes(ctx.db))
  writeOfBuild(ctx, who, event, content.testSuiteRun?.id ?? id, (writer, build, entry) => {
    const result: TestResultBody = {
      suite: content.testSuite?.name ?? content.testSuite?.id ?? content.testSuiteRun?.id ?? 'tests',
      name,
      outcome: OUTCOME_OF_CASE[outcome],
      durationMs: 0,
      message: outcome === 'passed' ? '' : (content.reason ?? content.errors ?? ''),
      verifies: [...new Set([...references.requirements, ...references.verifies])],
    }
    const { repository, number, sha, branch } = build
    writer.append({ ...entry, kind: 'tests-reported', body: { repository, build: number, sha, branch, results: [result] } })
    writer.touch(references.named)
    return true
  })
  return null
}

/** Something that was built. */
export function tellArtefact(ctx: ServiceContext, who: Who | null, event: CdEvent): string | null {
  const artefact = readArtefact(event.subject.content.artifactId ?? event.subject.id)
  if (!artefact) return 'The artefact is not named by a package URL (pkg:…).'
  const repository = placeEvent(ctx.db, who, {
    ...event,
    subject: { ...event.subject, content: { ...event.subject.content, artifactId: artefact.purl } },
  })
  const { purl, name, version } = artefact
  ctx.journal.write((writer) => {
    writer.append({
      ...common(event),
      kind: 'artefact-told',
      subjects: [`repository:${repository}`],
      source: `repository:${repository}`,
      body: { purl, name, version, repository, state: kindOf(event).predicate, sbom: event.subject.content.sbom?.uri ?? null },
    })
  })
  return null
}

/** One write about the build that a message is about; `write` says whether its failing tests are to be looked at now. */
function writeOfBuild(
  ctx: ServiceContext,
  who: Who | null,
  event: CdEvent,
  name: string | null,
  write: (writer: JournalWriter, build: ToldBuild, entry: Entry) => boolean,
): void {
  const repository = placeEvent(ctx.db, who, event)
  const own = ownAdditions(event)
  const sha = own.commit ?? own.sha ?? readArtefact(event.subject.content.artifactId)?.commit ?? ''
  const branch = own.branch ?? ''
  ctx.journal.write((writer) => {
    const chain = event.context.chainId ?? null
    const number = numberOfBuild(ctx, writer, repository, { name: chain !== null && isPartOfChain(event) ? null : name, chain })
    const subject = `build:${repository}/${number}`
    const entry = { ...common(event), subjects: [subject, `repository:${repository}`], source: subject }
    const isSettled = write(writer, { repository, number, sha, branch }, entry)
    writer.touch(itemsOfBuild(ctx, repository, sha, branch))
    if (!isSettled) return
    judgeTests(ctx, writer, { repository, build: number })
    judgeCoverage(ctx, writer, { repository, build: number })
  })
}

function common(event: CdEvent) {
  return {
    actor: 'source:build-service',
    atMs: Date.parse(event.context.timestamp),
    idempotencyKey: `${event.context.source}#${event.context.id}`,
  }
}

/** What a build is called: our addition, or the subject's own name without the repository before it. */
function nameOfBuild(event: CdEvent): string {
  const own = ownAdditions(event)
  return own.build ?? own.number?.toString() ?? event.subject.id.replace(/^.*\//, '')
}

/** Tests and steps have names of their own, which are not their build's: the chain says which that is. */
function isPartOfChain(event: CdEvent): boolean {
  return !['build', 'pipelinerun'].includes(kindOf(event).subject)
}

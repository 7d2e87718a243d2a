import {
  STAGES,
  type Drift,
  type Evidence,
  type EvidenceCode,
  type Ladder,
  type Stage,
  type Tread,
  type TreadState,
  stageRank,
} from './ladder.js'
import type { LadderInput } from './ladder-input.js'
import type { NodeRef } from '#basics/node-ref'
import { standOnParts } from './parts.js'

type Finding = { state: TreadState; evidence: Evidence[] }

/**
 * The ladder of one item, from evidence alone (docs/rules.md#stage and after). The stage is the highest one whose evidence holds; lower
 * ones
 * that lack theirs are holes, and with claims and contradictions make up the drift. O(size of the input); the same input always gives the
 * same ladder.
 */
export function computeLadder(input: LadderInput): Ladder {
  const evident: Record<Stage, Finding> = {
    logged: logged(input),
    accepted: accepted(input),
    underway: underway(input),
    'in-review': inReview(input),
    merged: merged(input),
    released: released(input),
    verified: verified(input),
  }
  const found = withBaseline(withAcceptedClaims(evident, input), input)
  const holds = (stage: Stage) => found[stage].state === 'proved' || (found[stage].state === 'contradicted' && stage === 'in-review')
  const stage = STAGES.findLast(holds) ?? 'logged'
  const height = stageRank(stage)
  const treads = STAGES.map((name, index) => settle(name, found[name], index < height, input))
  const hasComeBack = input.silences.some((silence) => silence.verdict === 'seen-again')
  return standOnParts({ stage, treads, hasComeBack, disposition: input.rejected?.disposition ?? null, drift: driftOf(treads) }, input.parts)
}

/** A claim that somebody who may stands for counts where nothing shows the contrary (docs/rules.md#own-acts). */
function withAcceptedClaims(found: Record<Stage, Finding>, { claims }: LadderInput): Record<Stage, Finding> {
  const counted = { ...found }
  for (const { stage, by, atMs, accepted } of claims) {
    const { state, evidence } = found[stage]
    if (!accepted || (state !== 'waiting' && state !== 'partial')) continue
    const said = fact('claimed-by', { by, atMs })
    const stoodFor = fact('claim-accepted', { by: accepted.by, atMs: accepted.atMs, facts: { words: accepted.words } })
    counted[stage] = { state: 'proved', evidence: [said, stoodFor, ...evidence.filter(({ code }) => code !== 'waits-for')] }
  }
  return counted
}

/**
 * What an item was imported as counts up to that stage, where nothing else is known: an imported status is a baseline, no drift
 * (docs/rules.md#own-acts). What evidence says against it stands.
 */
function withBaseline(found: Record<Stage, Finding>, { baseline }: LadderInput): Record<Stage, Finding> {
  if (baseline === null) return found
  const { stage: reached, by, atMs, words } = baseline
  const said = fact('imported-as', { by, atMs, facts: { words } })
  const counted = { ...found }
  for (const stage of STAGES.slice(0, stageRank(reached) + 1)) {
    const { state, evidence } = found[stage]
    if (state === 'waiting' || (stage === 'logged' && reached === 'logged'))
      counted[stage] = {
        state: 'proved',
        evidence: [...evidence.filter(({ code }) => code !== 'waits-for' && code !== 'no-fix-yet'), said],
      }
  }
  return counted
}

/** A waiting tread below the stage is a hole; one that somebody claims is drawn as claimed. */
function settle(stage: Stage, finding: Finding, isBelow: boolean, input: LadderInput): Tread {
  if (finding.state !== 'waiting') return { stage, ...finding }
  if (isBelow) return { stage, state: 'hole', evidence: finding.evidence }
  const claim = input.claims.find((candidate) => candidate.stage === stage)
  if (!claim) return { stage, ...finding }
  return { stage, state: 'claimed', evidence: [fact('claimed-by', { by: claim.by, atMs: claim.atMs }), ...finding.evidence] }
}

function driftOf(treads: readonly Tread[]): Drift[] {
  const drift: Drift[] = []
  for (const { stage, state } of treads) {
    if (state === 'hole') drift.push({ code: 'hole', stage })
    else if (state === 'claimed') drift.push({ code: 'claim', stage })
    else if (state === 'contradicted') drift.push({ code: 'contradiction', stage })
  }
  return drift
}

function logged({ logged: act }: LadderInput): Finding {
  const ref: NodeRef | null = act.fault ? { kind: 'fault', id: act.fault } : null
  return proved([
    fact(act.cause === 'rule' ? 'logged-by-rule' : 'logged-by', { by: act.by, atMs: act.atMs, ref, facts: { cause: act.cause } }),
  ])
}

function accepted({ accepted: act }: LadderInput): Finding {
  return act ? proved([fact('accepted-by', act)]) : waiting('a-decision')
}

function underway(input: LadderInput): Finding {
  const evidence: Evidence[] = []
  if (input.started) evidence.push(fact('started-by', input.started))
  for (const branch of input.branches) {
    evidence.push(
      fact('branch', {
        atMs: branch.atMs,
        ref: { kind: 'branch', id: `${branch.repository}/${branch.name}` },
        facts: { name: branch.name, isGone: branch.isGone },
      }),
    )
  }
  for (const commit of input.commits) {
    evidence.push(
      fact('commit', {
        by: commit.author,
        atMs: commit.atMs,
        ref: { kind: 'commit', id: `${commit.repository}/${commit.sha}` },
        facts: { subject: commit.subject },
      }),
    )
  }
  return evidence.length > 0 ? proved(evidence) : waiting('work')
}

function inReview({ pullRequests }: LadderInput): Finding {
  const counting = pullRequests.filter((pr) => pr.state !== 'closed')
  if (counting.length === 0) return waiting('pull-request')
  const evidence: Evidence[] = []
  let isBroken = false
  for (const pr of counting) {
    const ref: NodeRef = { kind: 'pull-request', id: `${pr.repository}/${pr.number}` }
    evidence.push(fact('pull-request', { by: pr.author, atMs: pr.atMs, ref, facts: { number: pr.number, state: pr.state } }))
    for (const { by, verdict, atMs } of pr.reviews) evidence.push(fact('review', { by, atMs, ref, facts: { verdict } }))
    // A build that was broken off, or of which nobody said how it ended, says nothing about the change.
    if (!pr.build || pr.build.state === 'stopped' || pr.build.state === 'ended') continue
    const code: EvidenceCode = pr.build.state === 'passed' ? 'build-passed' : pr.build.state === 'broke' ? 'build-broke' : 'build-running'
    if (pr.build.state === 'broke' && pr.state === 'open') isBroken = true
    evidence.push(
      fact(code, {
        ref: { kind: 'build', id: `${pr.repository}/${pr.build.number}` },
        facts: { number: pr.build.name, failed: pr.build.failed, total: pr.build.total },
      }),
    )
  }
  return { state: isBroken ? 'contradicted' : 'proved', evidence }
}

function merged({ fixes }: LadderInput): Finding {
  const counting = fixes.filter((fix) => fix.unaffected === null)
  const declared = fixes.flatMap(({ repository, unaffected }) =>
    unaffected === null
      ? []
      : [fact('repository-unaffected', { by: unaffected.by, atMs: unaffected.atMs, facts: { repository, words: unaffected.words } })],
  )
  if (counting.every((fix) => fix.patches === 0)) return { state: 'waiting', evidence: [...declared, fact('no-fix-yet', {})] }
  const found = counting.map((fix) => {
    const onLine: Record<string, string> = fix.line ? { line: fix.line } : {}
    const facts = { repository: fix.repository, patches: fix.patches, patchesOnMain: fix.patchesOnMain, ...onLine }
    if (fix.revertedBy) return fact('fix-reverted', { ref: { kind: 'commit', id: `${fix.repository}/${fix.revertedBy}` }, facts })
    if (fix.patchesOnMain < fix.patches || fix.patches === 0) return fact('fix-not-on-main', { facts })
    return fact('fix-on-main', {
      atMs: fix.mainAtMs,
      ref: fix.mainSha ? { kind: 'commit', id: `${fix.repository}/${fix.mainSha}` } : null,
      facts,
    })
  })
  const evidence = [...declared, ...found]
  const isWhole = counting.every((fix) => fix.patches > 0 && fix.patchesOnMain === fix.patches)
  if (isWhole) return proved(evidence)
  if (counting.some((fix) => fix.revertedBy)) return { state: 'contradicted', evidence }
  return { state: counting.some((fix) => fix.patchesOnMain > 0) ? 'partial' : 'waiting', evidence }
}

function released({ production, containingReleases }: LadderInput): Finding {
  const containing = containingReleases.map((release) =>
    fact('release-contains', {
      atMs: release.atMs,
      ref: { kind: 'release', id: `${release.service}@${release.release}` },
      facts: { release: release.release },
    }),
  )
  if (production === null) return containing.length > 0 ? { state: 'left-out', evidence: containing } : { state: 'left-out', evidence: [] }
  if (production.length === 0)
    return { state: 'waiting', evidence: containing.length > 0 ? containing : [fact('waits-for', { facts: { what: 'release' } })] }
  const evidence = production.map((run) =>
    fact(run.containsFix ? 'runs-in' : run.isRolledBack ? 'rolled-back' : 'not-yet-in', {
      atMs: run.atMs,
      ref: { kind: 'release', id: `${run.service}@${run.release}` },
      facts: { environment: run.environment, service: run.service, release: run.release },
    }),
  )
  const reached = production.filter((run) => run.containsFix).length
  if (reached === production.length) return proved(evidence)
  if (production.some((run) => run.isRolledBack)) return { state: 'contradicted', evidence: [...evidence, ...containing] }
  return { state: reached > 0 ? 'partial' : 'waiting', evidence: reached > 0 ? evidence : [...containing, ...evidence] }
}

function verified(input: LadderInput): Finding {
  const back = input.silences.find((silence) => silence.verdict === 'seen-again')
  if (back?.seenIn) {
    return {
      state: 'contradicted',
      evidence: [
        fact('came-back', {
          atMs: back.seenIn.atMs,
          ref: { kind: 'fault', id: back.fault },
          facts: { release: back.seenIn.release, environment: back.seenIn.environment },
        }),
      ],
    }
  }
  if (input.verified) return proved([fact('verified-by', input.verified)])
  const tests = input.verifyingTests
  if (tests.length > 0 && tests.every((test) => test.passed)) {
    return proved([fact('tests-pass', { facts: { count: tests.length, release: tests[0]?.release ?? '' } })])
  }
  const silent = input.silences.length > 0 && input.silences.every((silence) => silence.verdict === 'silent')
  const evidence = input.silences.map((silence) =>
    fact(silence.verdict === 'silent' ? 'silent' : silence.verdict === 'cannot-judge' ? 'cannot-be-judged' : 'still-judging', {
      atMs: silence.sinceMs,
      ref: { kind: 'fault', id: silence.fault },
      facts: { neededMs: silence.neededMs, exercised: silence.exercised },
    }),
  )
  if (silent) return proved(evidence)
  return { state: 'waiting', evidence: evidence.length > 0 ? evidence : [fact('waits-for', { facts: { what: 'verification' } })] }
}

function fact(code: EvidenceCode, parts: Partial<Omit<Evidence, 'code'>>): Evidence {
  return { code, by: parts.by ?? null, atMs: parts.atMs ?? null, ref: parts.ref ?? null, facts: parts.facts ?? {} }
}

function proved(evidence: Evidence[]): Finding {
  return { state: 'proved', evidence }
}

function waiting(what: string): Finding {
  return { state: 'waiting', evidence: [fact('waits-for', { facts: { what } })] }
}

import { join } from 'node:path'
import { proposeTraceLinks, type TraceArtefact, type TraceRequirement } from '@dystracer/core/likeness/trace-links'
import { readWordVectors } from '@dystracer/server/subjects/likeness/word-vectors'
import { readLines, type Say } from './eval.js'

/** For each requirement of a folder what may have been made for it, best first, and whether that is sure. */
export function evalTrace(folder: string, say: Say): void {
  const requirements = readLines<TraceRequirement>(join(folder, 'requirements.jsonl'))
  const artefacts = readLines<Omit<TraceArtefact, 'paths'> & { paths?: string[] }>(join(folder, 'artefacts.jsonl'))
  const links = proposeTraceLinks(
    requirements.map((requirement) => ({ ...requirement, chapter: requirement.chapter ?? '' })),
    artefacts.map((artefact) => ({ ...artefact, paths: artefact.paths ?? [] })),
    readWordVectors(),
  )
  for (const [requirement, found] of links)
    say(
      JSON.stringify({
        requirement,
        links: found.map(({ id, score, isDecided }) => ({ id, score: Number(score.toFixed(4)), decided: isDecided })),
      }),
    )
}

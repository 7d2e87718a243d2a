import { FINDING_LEVELS, kindOfFinding, MINUTES_TO_MEND, type FindingDetail } from '#findings/finding'
import { firstLine } from '#text/first-line'
import { z } from 'zod'
import { parseJson } from './json.js'
import { ReportFormatError, type Finding } from './report.js'

const RESULTS_MAX = 50_000
const TEXT_MAX = 4000
/** Steps of a code flow, and fixes, that are kept of one finding. */
const STEPS_MAX = 30
const FIXES_MAX = 5
const STEP_TEXT_MAX = 500
const MINUTES_MAX = 10_000

const zText = z.string().max(200_000)
const zMessage = z.object({ text: zText.optional(), id: zText.optional(), arguments: z.array(zText).optional() })
/** `minutes`: what it takes to mend it, as Dystracer reads it of a result or its rule. */
const zProperties = z.looseObject({
  tags: z.array(zText).max(100).optional().catch(undefined),
  minutes: z.number().int().min(0).max(MINUTES_MAX).optional().catch(undefined),
})
const zRule = z.object({
  id: zText.optional(),
  name: zText.optional(),
  shortDescription: z.object({ text: zText.optional() }).optional(),
  messageStrings: z.record(z.string(), z.object({ text: zText.optional() })).optional(),
  defaultConfiguration: z.object({ level: z.enum(FINDING_LEVELS).optional() }).optional(),
  helpUri: zText.optional(),
  properties: zProperties.optional(),
})
const zPlace = z.object({
  artifactLocation: z.object({ uri: zText.optional() }).optional(),
  region: z.object({ startLine: z.number().int().optional() }).optional(),
})
const zCodeFlow = z.object({
  threadFlows: z.array(
    z.object({
      locations: z.array(
        z.object({ location: z.object({ message: zMessage.optional(), physicalLocation: zPlace.optional() }).optional() }),
      ),
    }),
  ),
})
/** What is read of SARIF 2.1.0 (OASIS); the rest of a log may be there and is passed over. */
const zSarif = z.object({
  version: z.literal('2.1.0', { error: 'only SARIF 2.1.0 is read' }),
  runs: z
    .array(
      z.object({
        tool: z.object({ driver: z.object({ name: zText, rules: z.array(zRule).optional() }) }),
        originalUriBaseIds: z.record(z.string(), z.object({ uri: zText.optional() })).optional(),
        results: z
          .array(
            z.object({
              ruleId: zText.optional(),
              ruleIndex: z.number().int().optional(),
              rule: z.object({ id: zText.optional(), index: z.number().int().optional() }).optional(),
              level: z.enum(FINDING_LEVELS).optional(),
              kind: zText.optional(),
              message: zMessage.default({}),
              baselineState: zText.optional(),
              suppressions: z.array(z.object({ status: zText.optional() })).optional(),
              locations: z.array(z.object({ physicalLocation: zPlace.optional() })).default([]),
              fingerprints: z.record(z.string(), zText).optional(),
              partialFingerprints: z.record(z.string(), zText).optional(),
              codeFlows: z.array(zCodeFlow).optional(),
              fixes: z.array(z.object({ description: zMessage.optional() })).optional(),
              properties: zProperties.optional(),
            }),
          )
          .nullish(),
      }),
    )
    .max(100),
})
type Run = z.infer<typeof zSarif>['runs'][number]
type Result = NonNullable<Run['results']>[number]
type Rule = z.infer<typeof zRule>

/**
 * The findings of a SARIF log that say something is wrong. Left out, and said: results of another kind (pass, open), those that were
 * suppressed and not refused to be, and those that the tool itself says are gone. Throws ReportFormatError with the place.
 */
export function readSarif(text: string): { findings: Finding[]; notes: string[] } {
  const {
    data: { runs },
    isCleaned,
  } = parseJson(zSarif, text)
  const results = runs.flatMap((run) => (run.results ?? []).map((result) => ({ run, result })))
  if (results.length > RESULTS_MAX)
    throw new ReportFormatError(`more than ${RESULTS_MAX.toLocaleString('en')} results; send them in several logs`)
  const wrong = results.filter(({ result }) => result.kind === undefined || result.kind === 'fail')
  const counted = wrong.filter(({ result }) => !isSuppressed(result) && result.baselineState !== 'absent')
  const suppressed = wrong.filter(({ result }) => isSuppressed(result)).length
  return {
    findings: identified(counted.map(({ run, result }) => toFinding(run, result))),
    notes: [
      ...(suppressed > 0 ? [`${suppressed} suppressed results are no findings.`] : []),
      ...(isCleaned ? ['Control characters in it were left out.'] : []),
    ],
  }
}

/** A suppression counts unless it is only asked for or was refused (SARIF 2.1.0, 3.35.3). */
function isSuppressed({ suppressions = [] }: Result): boolean {
  return suppressions.some(({ status }) => status === undefined || status === 'accepted')
}

function toFinding(run: Run, result: Result): Finding {
  const rule = ruleOf(run, result)
  const place = result.locations[0]?.physicalLocation
  const ruleId = (result.ruleId ?? result.rule?.id ?? rule?.id)?.slice(0, 200) ?? 'unnamed rule'
  const tool = run.tool.driver.name.slice(0, 100)
  const message = messageOf(result, rule).slice(0, TEXT_MAX)
  const file = fileOf(place)
  // What a result leaves out, its rule says; what both leave out is a warning (3.27.10).
  const level = result.level ?? rule?.defaultConfiguration?.level ?? 'warning'
  const kind = kindOfFinding(level, [...(result.properties?.tags ?? []), ...(rule?.properties?.tags ?? [])])
  const own = firstOf(result.fingerprints) ?? firstOf(result.partialFingerprints)
  return {
    tool,
    ruleId,
    level,
    message,
    file,
    line: place?.region?.startLine ?? null,
    identity: own ?? `${ruleId} in ${file ?? 'no file'}: ${message}`.slice(0, 300),
    kind,
    minutes: result.properties?.minutes ?? rule?.properties?.minutes ?? MINUTES_TO_MEND[kind],
    detail: detailOf(result, rule),
  }
}

/** The first code flow that says something, the fixes that are proposed, and the page about the rule if it is one of the web. */
function detailOf(result: Result, rule: Rule | undefined): FindingDetail {
  const [flow] = (result.codeFlows ?? []).flatMap(({ threadFlows }) => threadFlows).filter(({ locations }) => locations.length > 0)
  return {
    steps: (flow?.locations ?? []).slice(0, STEPS_MAX).map(({ location }) => ({
      file: fileOf(location?.physicalLocation),
      line: location?.physicalLocation?.region?.startLine ?? null,
      message: messageOf({ message: location?.message ?? {} }, undefined).slice(0, STEP_TEXT_MAX),
    })),
    fixes: (result.fixes ?? [])
      .map(({ description }) => messageOf({ message: description ?? {} }, undefined).slice(0, STEP_TEXT_MAX))
      .filter((text) => text !== '')
      .slice(0, FIXES_MAX),
    helpUrl: rule?.helpUri !== undefined && /^https?:\/\//.test(rule.helpUri) ? rule.helpUri.slice(0, STEP_TEXT_MAX) : null,
  }
}

function fileOf(place: z.infer<typeof zPlace> | undefined): string | null {
  return place?.artifactLocation?.uri === undefined ? null : pathOf(place.artifactLocation.uri)
}

function ruleOf({ tool }: Run, { ruleIndex, rule, ruleId }: Result): Rule | undefined {
  const index = ruleIndex ?? rule?.index
  return (index === undefined ? undefined : tool.driver.rules?.[index]) ?? tool.driver.rules?.find(({ id }) => id === (ruleId ?? rule?.id))
}

/** The message's text, or its rule's text by name, with its places filled (3.11). */
function messageOf({ message }: Pick<Result, 'message'>, rule: Rule | undefined): string {
  const words =
    message.text ?? (message.id === undefined ? undefined : rule?.messageStrings?.[message.id]?.text) ?? rule?.shortDescription?.text ?? ''
  return words.replace(/\{(\d{1,2})\}/g, (slot, at: string) => message.arguments?.[Number(at)] ?? slot)
}

function firstOf(fingerprints: Record<string, string> | undefined): string | null {
  const first = Object.entries(fingerprints ?? {}).sort(([a], [b]) => (a < b ? -1 : 1))[0]
  return first ? first.join('=').slice(0, 300) : null
}

/** An address in a log as a path: percent signs decoded, the build machine's scheme left out. */
function pathOf(uri: string): string {
  const path = uri.replace(/^file:\/\/(?:localhost)?/, '').replace(/^(?:\.\/)+/, '')
  try {
    return decodeURIComponent(path).slice(0, 500)
  } catch (error) {
    if (error instanceof URIError) return path.slice(0, 500)
    throw error
  }
}

/** The same finding twice in one file is two findings: the second gets a number, in the order of the log. */
function identified(findings: readonly Finding[]): Finding[] {
  const seen = new Map<string, number>()
  return findings.map((finding) => {
    const key = JSON.stringify([finding.tool, finding.identity])
    const count = (seen.get(key) ?? 0) + 1
    seen.set(key, count)
    return count === 1 ? finding : { ...finding, identity: `${finding.identity} (${count})` }
  })
}

/** The first sentence of a finding's message, for a title: a dot inside a word (`a.b`, `v1.2`) ends nothing. */
export function firstSentence(message: string): string {
  const line = firstLine(message.trim())
  return (/^.*?[.!?](?=\s|$)/.exec(line)?.[0] ?? line).replace(/\.$/, '').trim()
}

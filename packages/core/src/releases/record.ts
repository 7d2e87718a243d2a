import { printedPage, printedTable, RECORD_STYLE } from '#text/printed-page'
import { namesKey } from '#text/references'
import { element } from '#text/xml-tree'

/** What an audit asks of a release: each thing with who and when, from what asked for it to where it ran. Lists are in a fixed order. */
export interface ReleaseRecord {
  format: 'dystracer-release-record'
  version: 1
  release: { service: string; name: string; repository: string; tag: string; sha: string; atMs: number; against: string | null }
  requirements: { key: string; title: string; text: string; revision: number }[]
  items: { key: string; title: string; type: string; stage: string; requirements: string[] }[]
  commits: { sha: string; subject: string; author: string; atMs: number; items: string[]; as: string }[]
  pullRequests: {
    number: number
    title: string
    state: string
    author: string
    mergeSha: string | null
    verdicts: { by: string; verdict: string; atMs: number; words: string }[]
    passedOver: { by: string; atMs: number; gates: string[]; words: string }[]
  }[]
  tests: { name: string; outcome: string; build: number; verifies: string[] }[]
  checks: { number: number; title: string; environment: string; outcome: string; by: string; atMs: number; words: string }[]
  deployments: {
    environment: string
    state: string
    askedBy: string | null
    approvedBy: string | null
    atMs: number
    runningAtMs: number | null
    /** Who agreed that it goes out, and the checks that people made for it by hand. */
    agreedBy: string[]
    checked: string[]
    /** Conditions of the place that did not hold as it went out all the same; null where all held. */
    passedOver: { by: string; why: string; unmet: string[] } | null
  }[]
}

/** The record as JSON: the same record is the same text. */
export function recordAsJson(record: ReleaseRecord): string {
  return `${JSON.stringify(record, null, 2)}\n`
}

/**
 * The chain from requirement to deployment, a row for each commit of an item of a requirement; items
 * without a requirement and commits without an item stand in rows of their own, so that nothing of the release is left out.
 */
export function recordRows(record: ReleaseRecord): Record<string, string>[] {
  const iso = (atMs: number) => new Date(atMs).toISOString()
  const reviewsOf = (sha: string) =>
    record.pullRequests
      .filter(({ mergeSha }) => mergeSha === sha)
      .flatMap(({ number, verdicts }) => verdicts.map(({ by, verdict, atMs }) => `${number}: ${by} ${verdict} ${iso(atMs)}`))
      .join('; ')
  const testsOf = (keys: readonly string[]) =>
    record.tests
      .filter(({ name, verifies }) => keys.some((key) => verifies.includes(key) || namesKey(name, key)))
      .map(({ name, outcome }) => `${name}: ${outcome}`)
      .join('; ')
  const ran = record.deployments
    .filter(({ runningAtMs }) => runningAtMs !== null)
    .map(
      ({ environment, runningAtMs, approvedBy, passedOver }) =>
        `${environment} ${iso(runningAtMs ?? 0)}${approvedBy ? `, approved by ${approvedBy}` : ''}` +
        `${passedOver ? `, past ${passedOver.unmet.join(' and ')} by ${passedOver.by}: ${passedOver.why}` : ''}`,
    )
    .join('; ')
  const row = (requirement: string, item: ReleaseRecord['items'][number] | null, commit: ReleaseRecord['commits'][number] | null) => ({
    requirement,
    item: item?.key ?? '',
    title: item?.title ?? '',
    stage: item?.stage ?? '',
    commit: commit?.sha ?? '',
    subject: commit?.subject ?? '',
    author: commit?.author ?? '',
    committed: commit ? iso(commit.atMs) : '',
    reviews: commit ? reviewsOf(commit.sha) : '',
    tests: testsOf([requirement, item?.key ?? ''].filter((key) => key !== '')),
    ran,
  })
  const ofItems = record.items.flatMap((item) => {
    const commits = record.commits.filter(({ items }) => items.includes(item.key))
    const requirements = item.requirements.length > 0 ? item.requirements : ['']
    return requirements.flatMap((requirement) =>
      commits.length > 0 ? commits.map((commit) => row(requirement, item, commit)) : [row(requirement, item, null)],
    )
  })
  const forNothing = record.commits.filter(({ items }) => items.length === 0).map((commit) => row('', null, commit))
  return [...ofItems, ...forNothing]
}

/** The record as a page that prints. */
export function recordAsHtml(record: ReleaseRecord): string {
  const { release } = record
  const at = (atMs: number | null) => (atMs === null ? '' : new Date(atMs).toISOString().slice(0, 16).replace('T', ' '))
  const code = (text: string) => element('code', {}, [text])
  const body = [
    element('p', {}, [
      `Tag ${release.tag} of ${release.repository} at `,
      code(release.sha),
      `, ${at(release.atMs)} UTC${release.against ? `, against ${release.against}` : ''}.`,
    ]),
    ...printedTable(
      'What asked for it',
      ['requirement', 'revision', 'text'],
      record.requirements.map((one) => [`${one.key} ${one.title}`, String(one.revision), one.text]),
    ),
    ...printedTable(
      'Items',
      ['item', 'type', 'stage', 'requirements'],
      record.items.map((one) => [`${one.key} ${one.title}`, one.type, one.stage, one.requirements.join(', ')]),
    ),
    ...printedTable(
      'Commits',
      ['commit', 'what', 'by', 'when', 'items'],
      record.commits.map((one) => [code(one.sha.slice(0, 12)), one.subject, one.author, at(one.atMs), one.items.join(', ')]),
    ),
    ...printedTable(
      'Reviews',
      ['pull request', 'who said what', 'past gates'],
      record.pullRequests.map((one) => [
        `${one.number} ${one.title}`,
        one.verdicts.map(({ by, verdict, atMs }) => `${by} ${verdict}, ${at(atMs)}`).join('; '),
        one.passedOver.map(({ by, atMs, words, gates }) => `${by}, ${at(atMs)}: ${gates.join(', ')}: ${words}`).join('; '),
      ]),
    ),
    ...printedTable(
      'Tests',
      ['test', 'outcome', 'build', 'verifies'],
      record.tests.map((one) => [one.name, one.outcome, String(one.build), one.verifies.join(', ')]),
    ),
    ...printedTable(
      'Tests by hand',
      ['case', 'where', 'outcome', 'by', 'when'],
      record.checks.map((one) => [`${one.number} ${one.title}`, one.environment, one.outcome, one.by, at(one.atMs)]),
    ),
    ...printedTable(
      'Deployments',
      ['where', 'state', 'asked by', 'approved by', 'agreed and checked', 'past gates', 'asked', 'running since'],
      record.deployments.map((one) => [
        one.environment,
        one.state,
        one.askedBy ?? '',
        one.approvedBy ?? '',
        [...one.agreedBy, ...one.checked].join('; '),
        one.passedOver ? `${one.passedOver.by}: ${one.passedOver.unmet.join(', ')}: ${one.passedOver.why}` : '',
        at(one.atMs),
        at(one.runningAtMs),
      ]),
    ),
  ]
  return printedPage({ title: `Record of ${release.service} ${release.name}`, style: RECORD_STYLE, body })
}

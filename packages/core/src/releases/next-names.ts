import { compareVersions } from './compare-versions.js'

/** Names that a next release could have, and which it builds on. */
export interface NextNames {
  /** The newest by its name; null for the first. */
  latest: string | null
  names: string[]
}

/**
 * How the next release could be called: after a version the next patch, minor and major one (Semantic
 * Versioning 2.0.0), after a preview the version that it prepares and the next preview, after a date today's;
 * the first is 0.1.0. Names that are taken are left out. `today` is `2026-11-24`.
 */
export function nextNames(taken: readonly string[], today: string): NextNames {
  const latest = taken.reduce<string | null>((newest, name) => (newest === null || compareVersions(newest, name) < 0 ? name : newest), null)
  if (latest === null) return { latest, names: ['0.1.0', '1.0.0'] }
  const known = new Set(taken)
  return { latest, names: [...new Set(after(latest, today))].filter((name) => !known.has(name)) }
}

function after(latest: string, today: string): string[] {
  const [year = '', month = '', day = ''] = today.split('-')
  const dated = /^(20\d\d)\.(\d{1,2})(?:\.(\d+))?$/.exec(latest)
  if (dated) {
    const isThisMonth = Number(dated[1]) === Number(year) && Number(dated[2]) === Number(month)
    const stem = `${year}.${dated[2]?.length === 2 ? month : Number(month)}`
    return isThisMonth ? [`${stem}.${Number(dated[3] ?? 0) + 1}`] : [stem, `${stem}.${Number(day)}`]
  }
  const parts = /^(\d+)\.(\d+)(?:\.(\d+))?(?:-([0-9A-Za-z.-]*?)(\d*))?(?:\+.*)?$/.exec(latest)
  if (!parts) return []
  const [, major = '0', minor = '0', patch, label, count] = parts
  const core = `${major}.${minor}${patch === undefined ? '' : `.${patch}`}`
  if (label !== undefined) return [core, `${core}-${label}${Number(count || 1) + 1}`]
  return patch === undefined
    ? [`${major}.${Number(minor) + 1}`, `${Number(major) + 1}.0`]
    : [`${major}.${minor}.${Number(patch) + 1}`, `${major}.${Number(minor) + 1}.0`, `${Number(major) + 1}.0.0`]
}

/**
 * How the next release of the line of a release is called: the next number on the same line that is free.
 * Null for a name that is no version.
 *
 * @example nextOnLine('4.1.5', ['4.1.5', '4.1.6', '4.2.0']) // '4.1.7'
 */
export function nextOnLine(release: string, taken: readonly string[]): string | null {
  const parts = /^(\d+\.\d+)(?:\.(\d+))?/.exec(release)
  if (!parts) return null
  const known = new Set(taken)
  for (let count = Number(parts[2] ?? 0) + 1; ; count++) {
    const name = `${parts[1]}.${count}`
    if (!known.has(name)) return name
  }
}

/**
 * The next candidate for a release: a pre-release by Semantic Versioning 2.0.0, which sorts before what it prepares.
 *
 * @example candidateOf('4.2.0', ['4.2.0-rc.1']) // '4.2.0-rc.2'
 */
export function candidateOf(name: string, taken: readonly string[]): string {
  const known = new Set(taken)
  for (let count = 1; ; count++) {
    const candidate = `${name}-rc.${count}`
    if (!known.has(candidate)) return candidate
  }
}

/** The release that a candidate prepares: `4.2.0` of `4.2.0-rc.1`; null for what is no candidate. */
export function preparedBy(name: string): string | null {
  return /^(\d[\w.+]*)-rc\.\d+$/.exec(name)?.[1] ?? null
}

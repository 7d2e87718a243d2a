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

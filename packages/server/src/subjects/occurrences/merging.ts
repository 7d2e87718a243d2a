import {
  type OwnedSite,
  type SavedGroup,
  MERGE_HAS,
  MERGE_STEPS,
  UNMERGE_GROUP,
  UNMERGE_LAST,
  UNMERGE_SITES,
  UNMERGE_RELEASES,
  UNMERGE_MINUTES,
  UNMERGE_PEOPLE,
  UNMERGE_KEEP,
  UNMERGE_SAVED,
  UNMERGE_FORGET,
  UNMERGE_INNER,
  UNMERGE_DROP_ALIAS,
  UNMERGE_REDIRECT,
  UNMERGE_DROP_SITES,
  UNMERGE_READ_SITES,
  UNMERGE_PUT_SITE,
  UNMERGE_PUT_GROUP,
  UNMERGE_MOVED,
  UNMERGE_SHIFT,
  UNMERGE_PUT_PERSON,
  UNMERGE_COUNTED_RELEASE,
  UNMERGE_SHIFT_RELEASE,
  UNMERGE_COUNTED_MINUTES,
  UNMERGE_SHIFT_MINUTE,
  UNMERGE_DAYS,
} from './merging.queries.js'
import type { Db } from '#platform/db/open'

/** Moves all of one group to another: occurrences, counters, people. The caller's transaction makes it one. */
export function prepareMerge(db: Db) {
  const { has, steps } = prepareMergeQueries(db)
  return {
    /** Whether both are there. */
    has: (from: string, into: string): boolean => has.get(from, into)?.count === 2,
    run: (from: string, into: string): void => {
      for (const step of steps) step.run({ from, into })
    },
  }
}

/** Keeping what a group was, and going back to it. */
export function prepareUnmerge(db: Db) {
  const {
    group,
    last,
    sites,
    releases,
    minutes,
    people,
    keep,
    saved,
    forget,
    inner,
    dropAlias,
    redirect,
    dropSites,
    readSites,
    putSite,
    putGroup,
    moved,
    shift,
    putPerson,
    countedRelease,
    shiftRelease,
    countedMinutes,
    shiftMinute,
    days,
  } = prepareUnmergeQueries(db)
  return {
    /** Keeps what a group is, before it goes into another. */
    save: (from: string, into: string): void => {
      const row = group.get(from)
      if (!row) return
      const whole: SavedGroup = {
        ...row,
        lastOccurrenceId: last.get()?.id ?? 0,
        sites: sites.all(from, into),
        releases: releases.all(from),
        minutes: minutes.all(from),
        people: people.all(from).map(({ person }) => person),
      }
      keep.run({ from, into, saved: JSON.stringify(whole) })
    },
    saved: (from: string): { into: string; group: SavedGroup } | null => {
      const row = saved.get(from)
      return row ? { into: row.into_fingerprint, group: JSON.parse(row.saved) as SavedGroup } : null
    },
    /** Puts the group and its sites back, without occurrences yet; sites that came since are forgotten, to be found anew. */
    begin: (from: string, into: string, before: SavedGroup): void => {
      const known = new Map(readSites.all(into).map((site) => [siteId(site), site.site]))
      dropSites.run(into)
      for (const site of before.sites) {
        const text = known.get(siteId(site))
        if (text !== undefined) putSite.run({ ...site, site: text })
      }
      putGroup.run({ from, ...before, sites: undefined, releases: undefined, minutes: undefined, people: undefined })
      for (const person of before.people) putPerson.run({ from, person })
      dropAlias.run(from)
      for (const { fingerprint } of inner.all(from)) redirect.run({ fingerprint, into: from })
      forget.run(from)
    },
    /** Gives back what was counted for the group and is not kept any more, or never was. */
    finish: (from: string, into: string, before: SavedGroup): void => {
      const upTo = before.lastOccurrenceId
      const lost = Math.max(0, before.count - (moved.get({ from, upTo })?.count ?? 0))
      shift.run({ fingerprint: from, count: lost, leftOut: before.leftOut })
      shift.run({ fingerprint: into, count: -lost, leftOut: -before.leftOut })
      for (const row of before.releases) {
        const rest = row.count - (countedRelease.get({ from, upTo, release: row.release, environment: row.environment })?.count ?? 0)
        if (rest <= 0) continue
        shiftRelease.run({ ...row, fingerprint: from, count: rest })
        shiftRelease.run({ ...row, fingerprint: into, count: -rest })
      }
      const counted = new Map(countedMinutes.all({ from, upTo }).map((row) => [`${row.minute}\n${row.environment}`, row.count]))
      for (const row of before.minutes) {
        const rest = row.count - (counted.get(`${row.minute}\n${row.environment}`) ?? 0)
        if (rest <= 0) continue
        shiftMinute.run({ ...row, fingerprint: from, count: rest })
        shiftMinute.run({ ...row, fingerprint: into, count: -rest })
      }
      for (const step of days) step.run({ from, into })
    },
  }
}

function siteId({ place, release, position, file }: Omit<OwnedSite, 'fingerprint'>): string {
  return `${place}\n${release}\n${position}\n${file}`
}

/** What merging two groups of occurrences writes: each step by the primary keys of the two fingerprints. */
function prepareMergeQueries(db: Db) {
  const has = db.prepare<[string, string], { count: number }>(MERGE_HAS)
  const steps = MERGE_STEPS.map((step) => db.prepare<{ from: string; into: string }>(step))
  return { has, steps }
}

/** What taking a merge apart reads and writes: each by the primary keys of the two fingerprints; minutes and people up to a limit. */
function prepareUnmergeQueries(db: Db) {
  const group = db.prepare<[string], Omit<SavedGroup, 'sites' | 'releases' | 'minutes' | 'people' | 'lastOccurrenceId'>>(UNMERGE_GROUP)
  const last = db.prepare<[], { id: number | null }>(UNMERGE_LAST)
  const sites = db.prepare<[string, string], OwnedSite>(UNMERGE_SITES)
  const releases = db.prepare<[string], SavedGroup['releases'][number]>(UNMERGE_RELEASES)
  const minutes = db.prepare<[string], SavedGroup['minutes'][number]>(UNMERGE_MINUTES)
  const people = db.prepare<[string], { person: string }>(UNMERGE_PEOPLE)
  const keep = db.prepare(UNMERGE_KEEP)
  const saved = db.prepare<[string], { into_fingerprint: string; saved: string }>(UNMERGE_SAVED)
  const forget = db.prepare(UNMERGE_FORGET)
  const inner = db.prepare<[string], { fingerprint: string }>(UNMERGE_INNER)
  const dropAlias = db.prepare(UNMERGE_DROP_ALIAS)
  const redirect = db.prepare(UNMERGE_REDIRECT)
  const dropSites = db.prepare(UNMERGE_DROP_SITES)
  const readSites = db.prepare<[string], OwnedSite & { site: string }>(UNMERGE_READ_SITES)
  const putSite = db.prepare(UNMERGE_PUT_SITE)
  const putGroup = db.prepare(UNMERGE_PUT_GROUP)
  const moved = db.prepare<{ from: string; upTo: number }, { count: number }>(UNMERGE_MOVED)
  const shift = db.prepare(UNMERGE_SHIFT)
  const putPerson = db.prepare(UNMERGE_PUT_PERSON)
  const countedRelease = db.prepare<object, { count: number }>(UNMERGE_COUNTED_RELEASE)
  const shiftRelease = db.prepare(UNMERGE_SHIFT_RELEASE)
  const countedMinutes = db.prepare<object, { minute: number; environment: string; count: number }>(UNMERGE_COUNTED_MINUTES)
  const shiftMinute = db.prepare(UNMERGE_SHIFT_MINUTE)
  const days = UNMERGE_DAYS.map((step) => db.prepare<{ from: string; into: string }>(step))
  return {
    group,
    last,
    sites,
    releases,
    minutes,
    people,
    keep,
    saved,
    forget,
    inner,
    dropAlias,
    redirect,
    dropSites,
    readSites,
    putSite,
    putGroup,
    moved,
    shift,
    putPerson,
    countedRelease,
    shiftRelease,
    countedMinutes,
    shiftMinute,
    days,
  }
}

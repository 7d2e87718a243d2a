import type { FoundPackage, ReleasePackages } from '@dystracer/core/dependencies/wire'
import { askedPackage, type PackageRef, purlOf } from '@dystracer/core/dependencies/package-ref'
import { writeBill } from '@dystracer/core/dependencies/bill-of-materials'
import type { Who } from '@dystracer/core/people/who'
import { compareVersions } from '@dystracer/core/releases/compare-versions'
import type { ServiceContext } from '#platform/context'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import { sql } from '#platform/db/statements'
import { nameOfPerson } from '#subjects/people/index'
import { hiddenServices } from '#subjects/records/index'
import { placesOf, requireRelease } from '#subjects/releases/index'
import {
  GET_BILL,
  LIST_LOCKS_OF_RELEASE,
  LIST_PACKAGES_OF_RELEASE,
  LIST_RELEASES_WITH_PACKAGE,
  LIST_UNREAD_RELEASES,
  LIST_VERSIONS_OF_PACKAGE,
} from './dependencies.queries.js'
import { type LockedRelease, readLocks } from './read-locks.js'

/** One question reads the lock files of at most so many releases that nobody asked about yet; the next goes on. */
const READ_AT_ONCE = 60
const ALL = 1_000_000

interface PackageRow extends PackageRef {
  files: string
  isBilled: number
}

/** The packages of a release by name, those that hold `q`. Its lock files are read first, if nobody asked before. Throws `not-found`. */
export async function listReleasePackages(
  ctx: ServiceContext,
  text: string,
  { q, cursor, limit }: { q: string; cursor?: string | undefined; limit: number },
): Promise<ReleasePackages> {
  const row = requireRelease(ctx, text)
  await readLocks(ctx, row)
  const of = { service: row.service, release: row.name }
  const after = decodeCursor(cursor, 3)
  const [name = null, version = '', type = ''] = after ?? []
  const page = pageOf(
    sql(ctx.db, LIST_PACKAGES_OF_RELEASE).all<PackageRow>({ ...of, q, name, version, type, limit: limit + 1 }),
    limit,
    ({ files, isBilled, ...one }) => ({ ...one, purl: purlOf(one), files: JSON.parse(files) as string[], isBilled: isBilled === 1 }),
    (one) => [one.name, one.version, one.type],
  )
  const locks = sql(ctx.db, LIST_LOCKS_OF_RELEASE).all<{ path: string; isReadable: number; packages: number; type: string }>(of)
  const bill = sql(ctx.db, GET_BILL).get<{ atMs: number; by: string; packages: number }>(of)
  return {
    ...page,
    files: locks.filter(({ isReadable }) => isReadable === 1).map(({ path, type: kind, packages }) => ({ path, type: kind, packages })),
    unreadable: locks.filter(({ isReadable }) => isReadable === 0).map(({ path }) => path),
    bill: bill ? { ...bill, by: nameOfPerson(ctx.db, bill.by) ?? bill.by } : null,
  }
}

/** The packages of a release as a bill of materials (CycloneDX). Throws `not-found`. */
export async function billOfRelease(ctx: ServiceContext, text: string): Promise<{ name: string; bill: string }> {
  const row = requireRelease(ctx, text)
  await readLocks(ctx, row)
  const { service, name: release, sha, at_ms: atMs } = row
  const asked = { service, release, q: '', name: null, version: '', type: '', limit: ALL }
  const packages = sql(ctx.db, LIST_PACKAGES_OF_RELEASE).all<PackageRow>(asked)
  return { name: `${service}-${release}.cdx.json`.replace(/[^\w.-]/g, '_'), bill: writeBill({ service, release, sha, atMs, packages }) }
}

/** The releases that contain a package, newest first, among those that the asker may see; a Package URL does as well. */
export async function findPackage(
  ctx: ServiceContext,
  who: Who,
  { q, cursor, limit }: { q: string; cursor?: string | undefined; limit: number },
): Promise<FoundPackage> {
  const hidden = hiddenServices(ctx.db, who)
  const unread = sql(ctx.db, LIST_UNREAD_RELEASES).all<LockedRelease>({ hidden })
  for (const release of unread.slice(0, READ_AT_ONCE)) await readLocks(ctx, release)
  const { name, version } = askedPackage(q)
  const after = decodeCursor(cursor, 3)
  const [atMs = null, service = '', release = ''] = after ?? []
  const rows = sql(ctx.db, LIST_RELEASES_WITH_PACKAGE).all<{ service: string; release: string; atMs: number; versions: string }>({
    asked: name,
    version,
    hidden,
    atMs,
    service,
    release,
    limit: limit + 1,
  })
  const versions = sql(ctx.db, LIST_VERSIONS_OF_PACKAGE).all<{ version: string }>({ asked: name, hidden })
  return {
    ...pageOf(
      rows,
      limit,
      (row) => ({
        service: row.service,
        release: row.release,
        atMs: row.atMs,
        versions: (JSON.parse(row.versions) as string[]).sort(compareVersions),
        runsIn: placesOf(ctx, row.service, row.release),
      }),
      (row) => [row.atMs, row.service, row.release],
    ),
    versions: versions.map((one) => one.version).sort((a, b) => compareVersions(b, a)),
    unread: Math.max(0, unread.length - READ_AT_ONCE),
  }
}

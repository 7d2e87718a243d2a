import { zAtMs, zEmpty, zPage, zPageQuery } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

const zPackage = z.object({ type: z.string(), name: z.string(), version: z.string() })

/** What a release is made of: packages by the lock files of its commit and by the bill of materials that was sent for it. */
export const zReleasePackages = zPage(
  zPackage.extend({
    purl: z.string(),
    /** The lock files that name it; empty where only the bill that was sent does. */
    files: z.array(z.string()),
    isBilled: z.boolean(),
  }),
).extend({
  files: z.array(z.object({ path: z.string(), type: z.string(), packages: z.number().int() })),
  /** Lock files that could not be read as what their names say. */
  unreadable: z.array(z.string()),
  bill: z.object({ atMs: zAtMs, by: z.string(), packages: z.number().int() }).nullable(),
})
export type ReleasePackages = z.infer<typeof zReleasePackages>

/** A release that contains a package, in which versions, and where it runs. */
export const zReleaseWithPackage = z.object({
  service: z.string(),
  release: z.string(),
  atMs: zAtMs,
  versions: z.array(z.string()),
  runsIn: z.array(z.string()),
})
/** The releases that contain a package, newest first. */
export const zFoundPackage = zPage(zReleaseWithPackage).extend({
  /** The versions of the package in any release that one may see, for choosing. */
  versions: z.array(z.string()),
  /** Releases whose lock files were not looked at yet: too many were asked about at once. */
  unread: z.number().int(),
})
export type FoundPackage = z.infer<typeof zFoundPackage>

const OF_RELEASE = { about: 'release' } as const
/** What can be asked of dependencies. */
export const dependenciesOperations = {
  listReleasePackages: operation({
    method: 'get',
    path: '/releases/:release/packages',
    summary: 'The packages that a release is made of, by its lock files and the bill of materials sent for it',
    may: 'project.read',
    ...OF_RELEASE,
    query: zPageQuery.extend({ q: z.string().trim().max(200).default('') }),
    answer: zReleasePackages,
  }),
  exportBill: operation({
    method: 'get',
    path: '/releases/:release/bill.cdx.json',
    summary: 'The same as a bill of materials: CycloneDX 1.6 as JSON',
    may: 'project.read',
    ...OF_RELEASE,
    media: 'application/vnd.cyclonedx+json',
    answer: z.string(),
  }),
  sendBill: operation({
    method: 'put',
    path: '/releases/:release/bill',
    summary: 'Send a bill of materials for a release (CycloneDX 1.2 to 1.6 as JSON); it stands in the place of an earlier one',
    may: 'releases.make',
    ...OF_RELEASE,
    bodyMedia: 'application/vnd.cyclonedx+json',
    answer: z.object({ packages: z.number().int(), withoutVersion: z.number().int() }),
  }),
  takeBillBack: operation({
    method: 'delete',
    path: '/releases/:release/bill',
    summary: 'Take the bill that was sent back; what the lock files say stays',
    may: 'releases.make',
    ...OF_RELEASE,
    answer: zEmpty,
  }),
  findPackage: operation({
    method: 'get',
    path: '/packages',
    summary: 'Which releases contain a package, `name` or `name@version` or a Package URL, and where they run',
    may: 'member-of-any',
    about: 'nothing',
    query: zPageQuery.extend({ q: z.string().trim().min(1).max(500) }),
    answer: zFoundPackage,
  }),
}

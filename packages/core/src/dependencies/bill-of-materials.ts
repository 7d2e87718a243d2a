import { z } from 'zod'
import { byNameAndVersion, type PackageRef, packageOf, purlOf } from './package-ref.js'

/** So many packages of one bill are taken; one with more is refused whole, so that nothing of it vanishes. */
export const BILL_PACKAGES_MAX = 20_000
const DEPTH_MAX = 30

const zText = z.string().max(2000)
interface Part {
  name: string
  group?: string | undefined
  version?: string | undefined
  purl?: string | undefined
  components?: Part[] | undefined
}
const zPart: z.ZodType<Part> = z.object({
  name: zText,
  group: zText.optional(),
  version: zText.optional(),
  purl: zText.optional(),
  get components() {
    return z.array(zPart).optional()
  },
})
/** What is read of a CycloneDX document as JSON, versions 1.2 to 1.6; the rest may be there and is passed over. */
const zBill = z.object({
  bomFormat: z.literal('CycloneDX', { error: 'it is no CycloneDX document: `bomFormat` does not say so' }),
  specVersion: z.string().regex(/^1\.[2-6]$/, 'only versions 1.2 to 1.6 are read'),
  serialNumber: zText.optional(),
  components: z.array(zPart).default([]),
})

/** A bill as read: its packages, each once, and what could not be taken as one. */
export interface ReadBill {
  packages: PackageRef[]
  /** Components that say no version, or no name that can be looked for. */
  withoutVersion: number
}

/**
 * The packages of a CycloneDX bill of materials (OWASP, ECMA-424) as JSON: by their Package URLs where they have one, else by group, name
 * and version; components of components count as well. Gives why it cannot be read, in words, where it can't. Linear.
 */
export function readBill(text: string): ReadBill | { why: string } {
  let raw: unknown
  try {
    raw = JSON.parse(text)
  } catch (error) {
    return { why: `it is no JSON: ${error instanceof Error ? error.message : 'unreadable'}` }
  }
  if (depthOf(raw) > DEPTH_MAX) return { why: `it nests deeper than ${DEPTH_MAX} levels` }
  const parsed = zBill.safeParse(raw)
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    return { why: `${issue?.path.join('.') || 'the document'}: ${issue?.message ?? 'is not understood'}` }
  }
  const packages = new Map<string, PackageRef>()
  let withoutVersion = 0
  const queue = [...parsed.data.components]
  for (let part = queue.pop(); part !== undefined; part = queue.pop()) {
    const found = (part.purl === undefined ? null : packageOf(part.purl)) ?? byName(part)
    if (found) packages.set(`${found.type} ${found.name} ${found.version}`, found)
    else withoutVersion++
    if (packages.size > BILL_PACKAGES_MAX) return { why: `it has more than ${BILL_PACKAGES_MAX.toLocaleString('en')} components` }
    queue.push(...(part.components ?? []))
  }
  return { packages: [...packages.values()].sort(byNameAndVersion), withoutVersion }
}

function byName({ group, name, version }: Part): PackageRef | null {
  if (!version || name.trim() === '') return null
  return { type: 'generic', name: group ? `${group}/${name}` : name, version }
}

/** How deep lists and objects stand within each other; counted without recursion, since the text is anybody's. */
function depthOf(value: unknown): number {
  let deepest = 0
  const queue: [unknown, number][] = [[value, 0]]
  for (let next = queue.pop(); next !== undefined; next = queue.pop()) {
    const [inner, depth] = next
    deepest = Math.max(deepest, depth)
    if (typeof inner === 'object' && inner !== null && depth <= DEPTH_MAX)
      for (const one of Object.values(inner)) queue.push([one, depth + 1])
  }
  return deepest
}

/** What a bill is of. */
export interface BilledRelease {
  service: string
  release: string
  /** The commit that it was made of, and when. */
  sha: string
  atMs: number
  packages: readonly PackageRef[]
}

/**
 * The packages of a release as a CycloneDX 1.6 bill of materials. Of the same release it is the same, byte for byte: its serial number is
 * made of the commit, its time is the release's.
 */
export function writeBill({ service, release, sha, atMs, packages }: BilledRelease): string {
  // Kinds that write names alike (`A_b` and `a-b`) have one reference for both.
  const byPurl = new Map([...packages].sort(byNameAndVersion).map((one) => [purlOf(one), one]))
  const components = [...byPurl].map(([purl, one]) => {
    const slash = one.name.lastIndexOf('/')
    return {
      type: 'library',
      'bom-ref': purl,
      ...(slash >= 0 && { group: one.name.slice(0, slash) }),
      name: one.name.slice(slash + 1),
      version: one.version,
      purl,
    }
  })
  const self = `${service}@${release}`
  const bill = {
    $schema: 'http://cyclonedx.org/schema/bom-1.6.schema.json',
    bomFormat: 'CycloneDX',
    specVersion: '1.6',
    serialNumber: `urn:uuid:${uuidOf(sha)}`,
    version: 1,
    metadata: {
      timestamp: new Date(atMs).toISOString(),
      tools: { components: [{ type: 'application', name: 'Dystracer' }] },
      component: { type: 'application', 'bom-ref': self, name: service, version: release },
    },
    components,
    dependencies: [{ ref: self, dependsOn: components.map((component) => component['bom-ref']) }],
  }
  return `${JSON.stringify(bill, null, 2)}\n`
}

/** A hash as a UUID of version 8 (RFC 9562: of one's own making). */
function uuidOf(sha: string): string {
  const hex = sha.padEnd(32, '0')
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`
}

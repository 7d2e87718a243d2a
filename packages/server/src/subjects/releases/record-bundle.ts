import { createHash, createPublicKey, verify } from 'node:crypto'
import { unzipSync, zipSync } from 'fflate'
import { recordAsHtml, recordAsJson, recordRows, type ReleaseRecord } from '@dystracer/core/releases/record'
import { asCsv } from '#platform/csv'
import type { Db } from '#platform/db/open'
import { fingerprintOf, signBytes, signingKey } from '#subjects/people/index'

/** The day that every file of a bundle bears: a moment of its own would make two bundles of one state differ. */
const NO_DAY = new Date(1980, 0, 1)
const BUNDLE_MAX_BYTES = 256 << 20
const NAMES = ['record.json', 'record.csv', 'record.html'] as const

interface Manifest {
  release: string
  files: { name: string; sha256: string; sizeBytes: number }[]
}

function sha256(bytes: Uint8Array): string {
  return createHash('sha256').update(bytes).digest('hex')
}

/**
 * A record as one archive: JSON, CSV and a page, with their hashes in a manifest that this installation's
 * key signs (Ed25519, RFC 8032). Of the same record it is the same byte for byte.
 */
export function bundleOf(db: Db, record: ReleaseRecord): Buffer {
  const rows = recordRows(record)
  const files: Record<(typeof NAMES)[number], Buffer> = {
    'record.json': Buffer.from(recordAsJson(record)),
    'record.csv': Buffer.from(asCsv(Object.keys(rows[0] ?? { requirement: '' }), rows)),
    'record.html': Buffer.from(recordAsHtml(record)),
  }
  const manifest: Manifest = {
    release: `${record.release.service}@${record.release.name}`,
    files: NAMES.map((name) => ({ name, sha256: sha256(files[name]), sizeBytes: files[name].length })),
  }
  const signed = Buffer.from(`${JSON.stringify(manifest, null, 2)}\n`)
  const all = {
    ...files,
    'manifest.json': signed,
    'manifest.sig': Buffer.from(`${signBytes(db, signed).toString('base64')}\n`),
    'key.pem': Buffer.from(signingKey(db).pem),
  }
  return Buffer.from(
    zipSync(Object.fromEntries(Object.entries(all).map(([name, bytes]) => [name, new Uint8Array(bytes)])), { mtime: NO_DAY }),
  )
}

/** What came of looking at a bundle: of which release it is and who signed it, or what is wrong with it. */
export type BundleCheck = { isSound: true; release: string; fingerprint: string } | { isSound: false; why: string }

/** Whether a bundle is whole and as it was signed; it needs nothing but the file. `fingerprint` says whose signature is meant. */
export function checkBundle(bytes: Uint8Array, fingerprint?: string): BundleCheck {
  const wrong = (why: string): BundleCheck => ({ isSound: false, why })
  let left = BUNDLE_MAX_BYTES
  let files: Record<string, Uint8Array>
  try {
    files = unzipSync(bytes, {
      filter: ({ originalSize }) => {
        left -= originalSize
        return left >= 0
      },
    })
  } catch {
    return wrong('it is no archive, or a broken one')
  }
  const [manifestBytes, signature, pem] = [files['manifest.json'], files['manifest.sig'], files['key.pem']]
  if (!manifestBytes || !signature || !pem) return wrong('it holds no manifest with a signature and a key')
  try {
    const key = createPublicKey(Buffer.from(pem).toString('utf8'))
    if (!verify(null, manifestBytes, key, Buffer.from(Buffer.from(signature).toString('utf8'), 'base64')))
      return wrong('the signature is not that of its manifest')
    const print = fingerprintOf(key)
    if (fingerprint !== undefined && fingerprint !== print) return wrong(`it is signed by ${print}, not by ${fingerprint}`)
    const manifest = JSON.parse(Buffer.from(manifestBytes).toString('utf8')) as Manifest
    const listed = new Set(manifest.files.map(({ name }) => name))
    const strange = Object.keys(files).find((name) => !listed.has(name) && !['manifest.json', 'manifest.sig', 'key.pem'].includes(name))
    if (strange !== undefined) return wrong(`${strange} is not in its manifest`)
    const changed = manifest.files.find(({ name, sha256: hash }) => !files[name] || sha256(files[name]) !== hash)
    if (changed) return wrong(`${changed.name} is missing or not as it was signed`)
    return { isSound: true, release: manifest.release, fingerprint: print }
  } catch (error) {
    return wrong(`its manifest, key or signature cannot be read (${error instanceof Error ? error.message : String(error)})`)
  }
}

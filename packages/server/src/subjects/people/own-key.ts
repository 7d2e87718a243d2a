import { createHash, createPrivateKey, createPublicKey, generateKeyPairSync, sign, type KeyObject } from 'node:crypto'
import type { Db } from '#platform/db/open'
import { rememberSecret } from './secrets.js'

/** The key by which this installation signs (Ed25519, RFC 8032); made when it is first needed. */
function privateKey(db: Db): KeyObject {
  const pem = rememberSecret(
    db,
    'record-key',
    () => generateKeyPairSync('ed25519').privateKey.export({ type: 'pkcs8', format: 'pem' }) as string,
  )
  return createPrivateKey(pem)
}

/** A key as people compare it: the first half of the hash of its public part. */
export function fingerprintOf(publicKey: KeyObject): string {
  return createHash('sha256')
    .update(publicKey.export({ type: 'spki', format: 'der' }))
    .digest('hex')
    .slice(0, 32)
}

/** The public half of this installation's key, to be compared elsewhere. */
export function signingKey(db: Db): { fingerprint: string; pem: string } {
  const key = createPublicKey(privateKey(db))
  return { fingerprint: fingerprintOf(key), pem: key.export({ type: 'spki', format: 'pem' }) as string }
}

/** The signature of this installation on some bytes. */
export function signBytes(db: Db, bytes: Uint8Array): Buffer {
  return sign(null, bytes, privateKey(db))
}

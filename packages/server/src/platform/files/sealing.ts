import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto'
import { closeSync, fsyncSync, openSync, readFileSync, writeSync } from 'node:fs'
import { join } from 'node:path'
import { slot, type ServiceContext } from '#platform/context'

const KEY_FILE = 'sealing.key'
const KEY_BYTES = 32
const NONCE_BYTES = 12
const TAG_BYTES = 16

const KEY = slot('sealing key', ({ config }) => keyIn(config.dataDir))

/**
 * A secret as it may lie in the database: encrypted (AES-256-GCM) with a key that lies in a file of its own beside it, which backups leave
 * out, so that who gets the database or a backup gets no secret.
 */
export function seal(ctx: Pick<ServiceContext, 'use'>, secret: string): string {
  const nonce = randomBytes(NONCE_BYTES)
  const cipher = createCipheriv('aes-256-gcm', ctx.use(KEY), nonce)
  const sealed = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()])
  return Buffer.concat([nonce, cipher.getAuthTag(), sealed]).toString('base64url')
}

/** The secret again; null where it was sealed with another key, or altered. */
export function unseal(ctx: Pick<ServiceContext, 'use'>, sealed: string): string | null {
  const bytes = Buffer.from(sealed, 'base64url')
  const decipher = createDecipheriv('aes-256-gcm', ctx.use(KEY), bytes.subarray(0, NONCE_BYTES))
  decipher.setAuthTag(bytes.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES))
  try {
    return Buffer.concat([decipher.update(bytes.subarray(NONCE_BYTES + TAG_BYTES)), decipher.final()]).toString('utf8')
  } catch (error) {
    // The cipher's one way to say that the text was not made with this key.
    if (/authenticate/.test(String(error))) return null
    throw error
  }
}

/** The key of this data folder, made the first time that it is needed, readable by its owner alone. */
function keyIn(dataDir: string): Buffer {
  const path = join(dataDir, KEY_FILE)
  try {
    const file = openSync(path, 'wx', 0o600)
    try {
      writeSync(file, randomBytes(KEY_BYTES).toString('base64url'))
      fsyncSync(file)
    } finally {
      closeSync(file)
    }
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error
  }
  const key = Buffer.from(readFileSync(path, 'utf8').trim(), 'base64url')
  if (key.length !== KEY_BYTES) throw new Error(`${path} holds no key of ${KEY_BYTES} bytes`)
  return key
}

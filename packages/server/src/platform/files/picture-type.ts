/** What a picture may be, by how its content begins. Vector pictures are shown as pictures alone: nothing in them acts. */
const SIGNATURES: readonly [mediaType: string, isIt: (bytes: Uint8Array, head: string) => boolean][] = [
  ['image/png', (bytes) => bytes[0] === 0x89 && bytes[1] === 0x50 && bytes[2] === 0x4e && bytes[3] === 0x47],
  ['image/jpeg', (bytes) => bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff],
  ['image/gif', (_, head) => head.startsWith('GIF8')],
  ['image/webp', (_, head) => head.startsWith('RIFF') && head.slice(8, 12) === 'WEBP'],
  ['image/svg+xml', (_, head) => /^\s*(?:<\?xml[^>]*>\s*)?(?:<!--[\s\S]*?-->\s*)*<svg[\s>]/.test(head)],
]

/** The headers with which a picture of whoever is sent: opened by itself, a vector picture is a document, in which nothing may act. */
export const PICTURE_HEADERS = {
  'content-security-policy': "sandbox; default-src 'none'; style-src 'unsafe-inline'",
  'x-content-type-options': 'nosniff',
} as const

/** The media type of a picture by its content; null for what is none. */
export function pictureTypeOf(bytes: Uint8Array): string | null {
  const head = Buffer.from(bytes.subarray(0, 1024)).toString('latin1')
  return SIGNATURES.find(([, isIt]) => isIt(bytes, head))?.[0] ?? null
}

/** What a picture of a text may be, by how its content begins. Vector pictures are shown as pictures alone: nothing in them acts. */
const SIGNATURES: readonly [mediaType: string, isIt: (bytes: Uint8Array, head: string) => boolean][] = [
  ['image/png', (bytes) => bytes[0] === 0x89 && bytes[1] === 0x50 && bytes[2] === 0x4e && bytes[3] === 0x47],
  ['image/jpeg', (bytes) => bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff],
  ['image/gif', (_, head) => head.startsWith('GIF8')],
  ['image/webp', (_, head) => head.startsWith('RIFF') && head.slice(8, 12) === 'WEBP'],
  ['image/svg+xml', (_, head) => /^\s*(?:<\?xml[^>]*>\s*)?(?:<!--[\s\S]*?-->\s*)*<svg[\s>]/.test(head)],
]

/** The media type of a picture by its content; null for what is none. A vector picture has to be called so, too. */
export function mediaTypeOfPicture(path: string, bytes: Uint8Array): string | null {
  const head = Buffer.from(bytes.subarray(0, 1024)).toString('latin1')
  const found = SIGNATURES.find(([, isIt]) => isIt(bytes, head))?.[0] ?? null
  return found === 'image/svg+xml' && !/\.svg$/i.test(path) ? null : found
}

/** A path without climbing, leading slashes and control characters; null for one that leaves nothing. */
export function cleanPath(path: string): string | null {
  const parts = path
    .replaceAll('\\', '/')
    .replace(/[\u0000-\u001f\u007f]/g, '')
    .split('/')
    .filter((part) => part !== '' && part !== '.' && part !== '..')
  return parts.length === 0 ? null : parts.join('/').slice(-200)
}

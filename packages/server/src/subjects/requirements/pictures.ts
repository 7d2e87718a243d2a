import { pictureTypeOf } from '#platform/files/picture-type'

/** The media type of a picture by its content; null for what is none. A vector picture has to be called so, too. */
export function mediaTypeOfPicture(path: string, bytes: Uint8Array): string | null {
  const found = pictureTypeOf(bytes)
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

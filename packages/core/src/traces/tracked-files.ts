/**
 * The tracked file that a frame's path means: the longest run of trailing segments that names exactly one tracked file, so that the
 * folder of the deployment does not matter. Null when none or several fit equally well. O(segments).
 */
export function resolveTrackedFile(framePath: string, trackedFiles: ReadonlySet<string>): string | null {
  const segments = framePath
    .replaceAll('\\', '/')
    .split('/')
    .filter((part) => part !== '' && part !== '.')
  for (let from = 0; from < segments.length; from++) {
    const candidate = segments.slice(from).join('/')
    if (trackedFiles.has(candidate)) return candidate
  }
  return null
}

/** So many changes are made anew at a time. */
export const PICKS_MAX = 60

/**
 * How the maintenance line of a release is called: after the numbers that stay while it is mended. A version `4.1.5` belongs to
 * `maintenance/4.1`, a date `2026.11.2` to `maintenance/2026.11`, a preview to the line of what it prepares; a prefix of the service's tags
 * stands before it, so that two services of one repository do not share a line.
 *
 * @example lineName('4.1.5', 'planner-v') // 'maintenance/planner-4.1'
 */
export function lineName(release: string, tagPrefix = ''): string {
  const numbers = /^\d+(?:\.\d+)?/.exec(release)?.[0] ?? release.replaceAll(/[^\w.-]/g, '-')
  const service = tagPrefix.replace(/v$/i, '').replaceAll(/[^\w.-]+/g, '-')
  const stem = service.replace(/[-._]+$/, '')
  return `maintenance/${stem === '' ? '' : `${stem}-`}${numbers}`
}

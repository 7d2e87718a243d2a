/** What the programs of the cooperative are built with: made-up packages, each with its first version, and how often it moves on. */
const TOOLS = [
  { name: '@emberwick/style', version: [1, 0, 0], everyReleases: 4 },
  { name: 'span-writer', version: [2, 3, 0], everyReleases: 2 },
  { name: 'probe-frames', version: [0, 9, 4], everyReleases: 3 },
  { name: 'steady-clock', version: [5, 1, 0], everyReleases: 5 },
  { name: 'table-check', version: [3, 0, 2], everyReleases: 1 },
  { name: 'long-division', version: [1, 4, 1], everyReleases: 0 },
] as const

/**
 * The lock file of a repository after so many of its releases: each tool moves on in its own
 * rhythm, every third time by a whole version.
 */
export function lockFile(repository: string, releases: number): string {
  const packages = Object.fromEntries(
    TOOLS.map(({ name, version: [major, minor, patch], everyReleases }) => {
      const steps = everyReleases === 0 ? 0 : Math.floor(releases / everyReleases)
      const leaps = Math.floor(steps / 3)
      return [
        `node_modules/${name}`,
        { version: `${major + leaps}.${leaps > 0 ? steps % 3 : minor + steps}.${steps > 0 ? 0 : patch}`, dev: true },
      ]
    }),
  )
  return `${JSON.stringify({ name: repository, lockfileVersion: 3, packages: { '': { name: repository }, ...packages } }, null, 2)}\n`
}

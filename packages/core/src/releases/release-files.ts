/** Files of a release that somebody who runs it has to know of. */
export interface ReleaseFiles {
  schema: string[]
  settings: string[]
  tests: string[]
  changed: number
}
const SCHEMA = /(?:^|\/)(?:migrations?|db\/schema|schema)\/|\.sql$|\.prisma$|(?:^|\/)schema\.[a-z]+$/i
const SETTINGS = /(?:^|\/)(?:[\w.-]*config[\w.-]*|\.env[\w.-]*|dockerfile|compose[\w.-]*)$|\.(?:ya?ml|toml|ini|env|properties|conf)$/i
const TESTS = /(?:^|[/._-])(?:tests?|specs?|__tests__)(?:[/._-]|$)/i

/** Sorts changed paths by what they mean to somebody who runs the program; by their names, the first that fits. */
export function releaseFiles(paths: readonly string[]): ReleaseFiles {
  const files: ReleaseFiles = { schema: [], settings: [], tests: [], changed: paths.length }
  for (const path of paths) {
    if (TESTS.test(path)) files.tests.push(path)
    else if (SCHEMA.test(path)) files.schema.push(path)
    else if (SETTINGS.test(path)) files.settings.push(path)
  }
  return files
}

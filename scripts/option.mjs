/** What stands behind `--name` on the command line, as the fallback is: a number where that is one, else a text. */
export function option(name, fallback) {
  const at = process.argv.indexOf(name)
  if (at < 0) return fallback
  return typeof fallback === 'number' ? Number(process.argv[at + 1]) : process.argv[at + 1]
}

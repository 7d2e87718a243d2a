import { usePaneTrail } from '#shared/lib/use-trail'

/** What stands between suite and name in the id of a test's pane. */
const BETWEEN = '\u001f'

/** The id of the pane of a test. */
export function testId(repository: string, { suite, name }: { suite: string; name: string }): string {
  return `${repository}/${suite}${BETWEEN}${name}`
}

/** The parts of such an id. */
export function testOfId(id: string): { repository: string; suite: string; name: string } {
  const slash = id.indexOf('/')
  const between = id.indexOf(BETWEEN)
  return { repository: id.slice(0, slash), suite: id.slice(slash + 1, between), name: id.slice(between + 1) }
}

/** The name of a test, which opens its past beside it. */
export function TestLink({ repository, test }: { repository: string; test: { suite: string; name: string } }) {
  const trail = usePaneTrail()
  return (
    <button
      type="button"
      className="min-h-6 text-left hover:underline"
      onClick={() => trail.open({ kind: 'test-record', id: testId(repository, test) })}
    >
      {test.name}
    </button>
  )
}

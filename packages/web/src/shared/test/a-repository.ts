import type { Repository } from '@dystracer/core/code/wire'

/** A repository that is read and has nothing to say; without branches unless they are given. */
export function aRepository(given: Partial<Repository> = {}): Repository {
  return {
    repository: 'kiln',
    url: 'https://code.example/kiln.git',
    longLines: [],
    mainBranch: 'main',
    commits: 3,
    fetchedAtMs: 1,
    trouble: null,
    retryAtMs: null,
    disconnectedAtMs: null,
    reading: null,
    keepsPullRequests: true,
    branches: [],
    projects: ['EMB'],
    access: { kind: 'none' },
    ...given,
  }
}

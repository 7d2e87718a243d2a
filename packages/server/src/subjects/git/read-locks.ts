import { isLockFile, readLockFile } from '@dystracer/core/dependencies/lock-files'
import type { PackageRef } from '@dystracer/core/dependencies/package-ref'
import { assertSha, GitError, runGit } from './run-git.js'

/** A lock file of a commit; `lock` is its name and the hash of its content, the same wherever it stands. */
export interface LockFile {
  path: string
  lock: string
}

const FILES_MAX = 60
const LIST_MAX_BYTES = 256 << 20
const FILE_MAX_BYTES = 16 << 20

/**
 * The lock files of a commit, at most 60, those nearest to the root first. O(files of the commit).
 * Throws GitError where it is not here.
 */
export async function listLockFiles(dir: string, sha: string): Promise<LockFile[]> {
  const listed = await runGit(['ls-tree', '-r', '-z', '--full-tree', assertSha(sha)], { dir, maxBytes: LIST_MAX_BYTES })
  return listed
    .toString('utf8')
    .split('\0')
    .flatMap((entry): LockFile[] => {
      const [, hash, path] = /^100\d+ blob ([0-9a-f]+)\t(.+)$/s.exec(entry) ?? []
      return hash && path && isLockFile(path) ? [{ path, lock: `${path.slice(path.lastIndexOf('/') + 1)}:${hash}` }] : []
    })
    .sort((a, b) => a.path.split('/').length - b.path.split('/').length)
    .slice(0, FILES_MAX)
}

/** What lock files name, each content once; null for one that is not what its name says, or is larger than 16 MB. */
export async function readLocks(dir: string, files: readonly LockFile[]): Promise<{ lock: string; packages: PackageRef[] | null }[]> {
  const read: { lock: string; packages: PackageRef[] | null }[] = []
  for (const lock of new Set(files.map((file) => file.lock))) {
    const [name = '', hash = ''] = lock.split(':')
    const bytes = await runGit(['cat-file', 'blob', assertSha(hash)], { dir, maxBytes: FILE_MAX_BYTES }).catch((error: unknown) => {
      if (error instanceof GitError && error.isTooMuch) return null
      throw error
    })
    read.push({ lock, packages: bytes === null ? null : readLockFile(name, bytes.toString('utf8')) })
  }
  return read
}

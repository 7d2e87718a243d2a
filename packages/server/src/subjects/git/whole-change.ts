import { mkdir, mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { strandsOf, type FileStep, type Side, type Strand } from '@dystracer/core/whole-change/strands'
import { cutDiff, DIFF_LOOK } from './mirror.js'
import { assertSha, runGit } from './run-git.js'

/** What commits change together: strands of files, and a diff for each sheet of them. */
export interface WholeDiff {
  strands: Strand[]
  sheets: { diff: string; isCut: boolean }[]
}

const NO_BLOB = /^0+$/
const NO_MODE = '000000'

/**
 * What the commits change together (`strandsOf` says how), as diffs that git itself makes, with its renames and its binary files: for each
 * sheet two trees are written that hold nothing but the files of its strands, before and after, and these are compared. The trees go into a
 * folder of objects beside the mirror's, which is removed: nothing stays behind. Cost: one program that reads all commits, and five for
 * each sheet, of which there are as many as the most often interrupted file has strands.
 *
 * @param shas in the order of history, no merges.
 */
export async function readWholeChange(dir: string, shas: readonly string[]): Promise<WholeDiff> {
  if (shas.length === 0) return { strands: [], sheets: [] }
  const strands = strandsOf(await readSteps(dir, shas))
  const scratch = await mkdtemp(join(tmpdir(), 'dystracer-whole-'))
  try {
    const objects = join(scratch, 'objects')
    await mkdir(objects)
    const environment = { GIT_OBJECT_DIRECTORY: objects, GIT_ALTERNATE_OBJECT_DIRECTORIES: join(dir, 'objects') }
    const sheets: WholeDiff['sheets'] = []
    for (let sheet = 0; strands.some((strand) => strand.sheet === sheet); sheet++) {
      const those = strands.filter((strand) => strand.sheet === sheet)
      const write = (end: 'before' | 'after') =>
        writeTree(dir, {
          sides: those.flatMap((strand) => strand[end] ?? []),
          environment: { ...environment, GIT_INDEX_FILE: join(scratch, `${sheet}-${end}`) },
        })
      const before = await write('before')
      const after = await write('after')
      const diff = await runGit(['diff-tree', '-r', '-M', ...DIFF_LOOK, before, after], { dir, environment, maxBytes: 32 << 20 })
      sheets.push(cutDiff(diff.toString('utf8')))
    }
    return { strands, sheets }
  } finally {
    await rm(scratch, { recursive: true, force: true })
  }
}

/** What each commit did to each file, as git tells it: `:mode mode blob blob status`, then one path or two. */
async function readSteps(dir: string, shas: readonly string[]): Promise<FileStep[]> {
  const raw = await runGit(['diff-tree', '--stdin', '--root', '-r', '-M', '-z', '--raw', '--no-abbrev'], {
    dir,
    input: shas.map((sha) => `${assertSha(sha)}\n`).join(''),
    maxBytes: 32 << 20,
  })
  const words = raw.toString('utf8').split('\0')
  const steps: FileStep[] = []
  let sha = ''
  for (let at = 0; at < words.length; at++) {
    const word = words[at] ?? ''
    const entry = /^:(\d{6}) (\d{6}) ([0-9a-f]+) ([0-9a-f]+) ([A-Z])\d*$/.exec(word)
    if (!entry) {
      if (word !== '') sha = assertSha(word)
      continue
    }
    const [, modeBefore = '', modeAfter = '', blobBefore = '', blobAfter = '', status = ''] = entry
    const path = words[++at] ?? ''
    const isMoved = status === 'R' || status === 'C'
    const pathAfter = isMoved ? (words[++at] ?? '') : path
    steps.push({ sha, before: sideOf(path, modeBefore, blobBefore), after: sideOf(pathAfter, modeAfter, blobAfter) })
  }
  return steps
}

function sideOf(path: string, mode: string, blob: string): Side | null {
  return mode === NO_MODE || NO_BLOB.test(blob) ? null : { path, mode, blob }
}

async function writeTree(
  dir: string,
  { sides, environment }: { sides: readonly Side[]; environment: Record<string, string> },
): Promise<string> {
  const input = sides.map(({ path, mode, blob }) => `${mode} ${assertSha(blob)}\t${path}\0`).join('')
  await runGit(['update-index', '-z', '--index-info'], { dir, environment, input })
  return assertSha((await runGit(['write-tree'], { dir, environment })).toString('utf8').trim())
}

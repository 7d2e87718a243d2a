import { buildDescription } from './build-description.js'
import { checkSource } from './check-source.js'
import { lockFile } from './lock-file.js'
import { glazeMain, glazePieces } from './glaze-pieces.js'
import { kilnMain, kilnPieces } from './kiln-pieces.js'
import { plannerMain, plannerPieces } from './planner-pieces.js'
import { COMMITTERS, emailOf, type DemoPerson } from './people.js'
import type { ImportCommit } from './fast-import.js'
import type { DemoRepository, Piece } from './piece.js'
import { telemetrySource } from './telemetry-source.js'

export const REPOSITORIES: DemoRepository[] = [
  {
    name: 'kiln-controller',
    about: 'Firing safety and control of the studio kilns.',
    component: 'Kiln control',
    pieces: kilnPieces,
    main: kilnMain,
  },
  {
    name: 'firing-planner',
    about: 'Booking of shelves and wheels, and firing plans.',
    component: 'Firing planner',
    pieces: plannerPieces,
    main: plannerMain,
  },
  { name: 'glaze-lab', about: 'Glaze recipes.', component: 'Glaze lab', pieces: glazePieces, main: glazeMain },
]
/** After how many pieces each release is tagged. */
const RELEASES: Record<string, { after: number; name: string }[]> = {
  'kiln-controller': [
    { after: 3, name: '4.0.0' },
    { after: 7, name: '4.1.0' },
    { after: 10, name: '4.1.2' },
    { after: 13, name: '4.1.3' },
  ],
  'firing-planner': [
    { after: 6, name: '2.3.0' },
    { after: 11, name: '2.4.0' },
  ],
  'glaze-lab': [
    { after: 5, name: '1.6.0' },
    { after: 9, name: '1.7.0' },
  ],
}

/** One piece's way into the program, with the marks of its commits. */
export interface PieceHistory {
  repository: string
  component: string
  piece: Piece
  itemKey: string
  owner: DemoPerson
  reviewer: DemoPerson
  loggedAtMs: number
  branch: string
  number: number
  branchCommits: { mark: number; atMs: number }[]
  mergeMark: number | null
  mergedAtMs: number | null
  /** The commit that mended the main line after its merge broke it. */
  mend: { mark: number; atMs: number } | null
}
export interface ReleaseHistory {
  repository: string
  name: string
  mark: number
  atMs: number
}
export interface DemoHistory {
  commitsByRepository: Map<string, ImportCommit[]>
  pieces: PieceHistory[]
  releases: ReleaseHistory[]
  filesByMark: Map<number, Record<string, string>>
}

const DAY_MS = 86_400_000

/**
 * The whole history of the three repositories, with dates up to `todayMs`. `keyOf` names the item that a
 * piece was logged as; the last piece of a repository is still in review.
 */
export function makeHistory(todayMs: number, keyOf: (piece: Piece) => string): DemoHistory {
  const history: DemoHistory = { commitsByRepository: new Map(), pieces: [], releases: [], filesByMark: new Map() }
  let mark = 0
  for (const [index, repository] of REPOSITORIES.entries()) {
    const writer = new RepositoryWriter(repository, history, () => ++mark, index, todayMs)
    writer.begin()
    repository.pieces.forEach((piece, position) => {
      writer.addPiece(piece, position, keyOf(piece))
      const release = RELEASES[repository.name]?.find((entry) => entry.after === position + 1)
      if (release) writer.release(release.name)
    })
  }
  return history
}

class RepositoryWriter {
  readonly #commits: ImportCommit[] = []
  #files: Record<string, string> = {}
  #pieces: Piece[] = []
  #head = 0
  #changes: string[] = []
  #releases = 0

  constructor(
    readonly repository: DemoRepository,
    readonly history: DemoHistory,
    readonly nextMark: () => number,
    readonly index: number,
    readonly todayMs: number,
  ) {
    history.commitsByRepository.set(repository.name, this.#commits)
  }

  begin(): void {
    const startMs = this.todayMs - 358 * DAY_MS + this.index * 3600_000 * 5
    const first = COMMITTERS[this.index] as DemoPerson
    const manifest = { name: this.repository.name, version: '0.1.0', private: true, scripts: { test: 'node --test' } }
    this.#files = {
      'README.md': `# ${this.repository.name}\n\n${this.repository.about}\n`,
      'package.json': `${JSON.stringify(manifest, null, 2)}\n`,
      'package-lock.json': lockFile(this.repository.name, 0),
      '.dystracer/build.yml': buildDescription(this.repository.name),
      'tools/check.mjs': checkSource,
    }
    this.#head = this.#commit('refs/heads/main', [], first, startMs, `Begin ${this.repository.name}`)
    this.#files = { ...this.#files, 'src/telemetry.js': telemetrySource }
    this.#head = this.#commit('refs/heads/main', [this.#head], first, startMs + 3600_000, 'Send spans and errors by OpenTelemetry')
  }

  /** A branch with its commits, merged a few days later unless it is the last piece. */
  addPiece(piece: Piece, position: number, itemKey: string): void {
    const count = this.repository.pieces.length
    const isOpen = position === count - 1
    const owner = COMMITTERS[(position * 2 + this.index) % COMMITTERS.length] as DemoPerson
    const reviewer = COMMITTERS[(position * 2 + this.index + 1) % COMMITTERS.length] as DemoPerson
    const startMs = isOpen
      ? this.todayMs - (1 + this.index) * DAY_MS + 9 * 3600_000
      : this.todayMs - Math.round((350 - position * (345 / count)) * DAY_MS) + this.index * 7 * 3600_000 + 9 * 3600_000
    const words = piece.name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)
    const branch = `${piece.type === 'defect' ? 'fix' : 'feature'}/${itemKey}-${words}`
    const branchCommits: { mark: number; atMs: number }[] = []
    const ref = `refs/heads/${branch}`
    const add = (atMs: number, message: string) => {
      const mark = this.#commit(ref, [branchCommits.at(-1)?.mark ?? this.#head], owner, atMs, message)
      branchCommits.push({ mark, atMs })
    }
    const before = this.#files
    const trailer = piece.type === 'defect' ? `Fixes: ${itemKey}` : `Fixes: ${itemKey}\nRequirement: ${piece.requirement}`
    this.#pieces = [...this.#pieces, piece]
    if (piece.slip) {
      this.#files = this.#compose({ ...piece, code: piece.code.replace(...piece.slip) })
      add(startMs, `${piece.title}\n\nRefs: ${itemKey}\nTime: 1h 30m`)
      this.#files = this.#compose(piece)
      add(startMs + 5 * 3600_000, `Mend ${piece.name}: its test was right\n\n${trailer}\nTime: 40m`)
    } else {
      this.#files = { ...this.#compose(piece), [`test/${piece.module}.test.js`]: before[`test/${piece.module}.test.js`] ?? '' }
      if (this.#files[`test/${piece.module}.test.js`] === '') delete this.#files[`test/${piece.module}.test.js`]
      add(startMs, `${piece.title}\n\n${trailer}\nTime: 2h`)
      this.#files = this.#compose(piece)
      add(startMs + 4 * 3600_000, `Test ${piece.name}\n\nRefs: ${itemKey}\nVerifies: ${piece.requirement}`)
    }
    const mergedAtMs = isOpen ? null : startMs + (1 + (position % 3)) * DAY_MS
    const number = position + 1
    let mergeMark: number | null = null
    let mend: PieceHistory['mend'] = null
    if (mergedAtMs !== null) {
      const merged = this.#files
      if (piece.mergeSlip) this.#files = this.#compose({ ...piece, code: piece.code.replace(...piece.mergeSlip) })
      mergeMark = this.#commit(
        'refs/heads/main',
        [this.#head, branchCommits.at(-1)?.mark ?? 0],
        reviewer,
        mergedAtMs,
        `Merge pull request ${number}: ${piece.title}`,
      )
      this.#head = mergeMark
      this.#files = merged
      if (piece.mergeSlip) {
        const atMs = mergedAtMs + 6 * 3600_000
        const message = `Mend ${piece.name} on the main line: its merge took the wrong side\n\nRefs: ${itemKey}`
        mend = { mark: this.#commit('refs/heads/main', [this.#head], owner, atMs, message), atMs }
        this.#head = mend.mark
      }
      this.#changes.push(`- ${piece.title} (${itemKey})`)
    } else this.#files = before
    this.history.pieces.push({
      repository: this.repository.name,
      component: this.repository.component,
      piece,
      itemKey,
      owner,
      reviewer,
      loggedAtMs: startMs - (3 + (position % 9)) * DAY_MS,
      branch,
      number,
      branchCommits,
      mergeMark,
      mergedAtMs,
      mend,
    })
  }

  release(name: string): void {
    const last = this.history.pieces.at(-1)
    const atMs = (last?.mergedAtMs ?? this.todayMs) + 20 * 3600_000
    this.#releases++
    this.#files = {
      ...this.#files,
      'package-lock.json': lockFile(this.repository.name, this.#releases),
      'CHANGES.md': `# Changes\n\n## ${name}\n${this.#changes.join('\n')}\n`,
      'package.json': (this.#files['package.json'] ?? '').replace(/"version": "[^"]*"/, `"version": "${name}"`),
    }
    this.#head = this.#commit('refs/heads/main', [this.#head], COMMITTERS[0] as DemoPerson, atMs, `Release ${name}`)
    this.history.releases.push({ repository: this.repository.name, name, mark: this.#head, atMs: atMs + 600_000 })
    this.#changes = []
  }

  #commit(ref: string, parents: number[], author: DemoPerson, atMs: number, message: string): number {
    const mark = this.nextMark()
    this.#commits.push({
      mark,
      ref,
      parents,
      author: { name: author.name, email: emailOf(author.personId) },
      atMs,
      message: `${message}\n`,
      files: this.#files,
    })
    this.history.filesByMark.set(mark, this.#files)
    return mark
  }

  /** All files with the newest piece as given; `main.js` appears once what it needs is there. */
  #compose(newest: Piece): Record<string, string> {
    const pieces = [...this.#pieces.slice(0, -1), newest]
    const files = { ...this.#files }
    const own = pieces.filter((piece) => piece.module === newest.module)
    files[`src/${newest.module}.js`] =
      `'use strict'\n\n${own.map((piece) => piece.code).join('\n\n')}\n\n` +
      `module.exports = { ${own.map((piece) => piece.name).join(', ')} }\n`
    files[`test/${newest.module}.test.js`] =
      `'use strict'\nconst test = require('node:test')\nconst assert = require('node:assert/strict')\n` +
      `const { ${own.map((piece) => piece.name).join(', ')} } = ` +
      `require('../src/${newest.module}')\n\n${own
        .map(
          (piece) =>
            `test(${JSON.stringify(
              `${piece.requirement}: ${piece.title[0]?.toLowerCase()}${piece.title.slice(1)}`,
            )}, () => {\n  ${piece.test}\n})`,
        )
        .join('\n\n')}\n`
    const needed = [...this.repository.main.matchAll(/require\('\.\/([\w-]+)'\)/g)].map((match) => `src/${match[1]}.js`)
    if (needed.every((path) => path in files)) files['src/main.js'] = this.repository.main
    return files
  }
}

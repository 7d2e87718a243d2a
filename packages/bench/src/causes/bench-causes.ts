import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { findSuspects } from '@dystracer/server/subjects/git/suspects'
import { makeRandom } from '../bench-world.js'
import type { PlantedProgram } from './planted-program.js'
import { PLANTED_PROGRAMS } from './programs.js'

type Figures = Record<string, number>
type Planted = PlantedProgram['planted'][number]
/** So many honest commits lie before the good one, and between it and the failing one. */
const BEFORE = 4
const BETWEEN = 15
/** Between the seeds of two histories of one edit. */
const ANOTHER = 1000
/** Two-sided, 95 %. */
const Z = 1.96

/**
 * Who brought a failure in, in a world made for it: each planted edit lies among honest commits of the same files, the program is really
 * run and its own words are all that is known. The ranking beside blame alone (commits of the gap that wrote the lines of frames, by
 * frame, then the newest first). Every second one was never looked at while the ranking was made; shares in per cent, with the bounds of
 * Wilson's interval.
 */
export async function benchCauses(): Promise<Figures> {
  const ranks: { ours: number; blame: number; isElsewhere: boolean }[] = []
  let at = 0
  for (const program of PLANTED_PROGRAMS) for (const planted of program.planted) ranks.push(await rankOne(program, planted, at++))
  const aside = ranks.filter((_, index) => index % 2 === 1)
  const worked = ranks.filter((_, index) => index % 2 === 0)
  return {
    planted: ranks.length,
    inAnotherFile: ranks.filter(({ isElsewhere }) => isElsewhere).length,
    ...sharesOf('aside', aside),
    ...sharesOf('workedWith', worked),
  }
}

function sharesOf(name: string, ranks: readonly { ours: number; blame: number }[]): Figures {
  const first = share(ranks.filter(({ ours }) => ours === 1).length, ranks.length)
  const three = share(ranks.filter(({ ours }) => ours >= 1 && ours <= 3).length, ranks.length)
  return {
    [`${name}First`]: first.share,
    [`${name}FirstFrom`]: first.from,
    [`${name}FirstTo`]: first.to,
    [`${name}AmongThree`]: three.share,
    [`${name}AmongThreeFrom`]: three.from,
    [`${name}AmongThreeTo`]: three.to,
    [`${name}BlameAloneFirst`]: share(ranks.filter(({ blame }) => blame === 1).length, ranks.length).share,
    [`${name}BlameAloneAmongThree`]: share(ranks.filter(({ blame }) => blame >= 1 && blame <= 3).length, ranks.length).share,
  }
}

/** A share in per cent with Wilson's interval (Wilson 1927). */
function share(hits: number, of: number): { share: number; from: number; to: number } {
  const p = hits / of
  const middle = (p + Z ** 2 / (2 * of)) / (1 + Z ** 2 / of)
  const half = (Z / (1 + Z ** 2 / of)) * Math.sqrt((p * (1 - p)) / of + Z ** 2 / (4 * of ** 2))
  const perCent = (value: number) => Math.round(value * 1000) / 10
  return { share: perCent(p), from: perCent(middle - half), to: perCent(middle + half) }
}

async function rankOne(
  program: PlantedProgram,
  planted: Planted,
  at: number,
): Promise<{ ours: number; blame: number; isElsewhere: boolean }> {
  const world = new World(program, at)
  try {
    const history = world.plant(planted)
    // Honest work went between the lines that were to be edited: another history.
    if (history === null) return await rankOne(program, planted, at + ANOTHER)
    const { lastGood, firstBad, guilty, trace } = history
    const suspects = await findSuspects(join(world.dir, '.git'), { lastGood, firstBad, message: trace, names: [] })
    return {
      ours: suspects.findIndex(({ sha }) => sha === guilty) + 1,
      blame: world.byBlame(trace, { lastGood, firstBad }).indexOf(guilty) + 1,
      isElsewhere: !(framesIn(trace, world.dir)[0]?.path === planted[1]),
    }
  } finally {
    rmSync(world.dir, { recursive: true, force: true })
  }
}

/** One history of a program, by a seed. */
class World {
  readonly dir = mkdtempSync(join(tmpdir(), 'dystracer-causes-'))
  readonly #files: Record<string, string>
  readonly #random: () => number
  readonly #program: PlantedProgram
  #tick = 0

  constructor(program: PlantedProgram, seed: number) {
    this.#program = program
    this.#files = { ...program.files }
    this.#random = makeRandom(seed + 7)
    this.#git('init', '--quiet', '--initial-branch=main')
  }

  /** Commits the program, honest work, and the edit somewhere in it, and runs it before and after. Null: the edit has no place left. */
  plant([, path, from, to, subject]: Planted): { lastGood: string; firstBad: string; guilty: string; trace: string } | null {
    if (!this.#program.files[path]?.includes(from)) throw new Error(`nothing to edit in ${path}: ${from}`)
    for (const name of Object.keys(this.#files)) this.#write(name)
    this.#commit('Begin')
    for (let turn = 0; turn < BEFORE; turn++) this.#honest(turn)
    const lastGood = this.#head()
    const good = this.#run()
    if (good.status !== 0) throw new Error(`${this.#program.name} fails before anything is planted: ${good.stderr}`)
    const place = Math.floor(this.#random() * BETWEEN)
    let guilty = ''
    for (let turn = 0; turn < BETWEEN; turn++) {
      if (turn === place) {
        const before = this.#files[path] ?? ''
        this.#files[path] = before.replace(from, () => to)
        if (this.#files[path] === before) return null
        this.#write(path)
        guilty = this.#commit(subject)
      }
      this.#honest(BEFORE + turn)
    }
    const bad = this.#run()
    if (bad.status !== 1) throw new Error(`planted in vain: ${this.#program.name} ${path} ${subject}`)
    return { lastGood, firstBad: this.#head(), guilty, trace: bad.stderr }
  }

  /** The commits of the gap that wrote the lines of the frames, by frame, then the others, newest first. */
  byBlame(trace: string, { lastGood, firstBad }: { lastGood: string; firstBad: string }): string[] {
    const gap = this.#git('rev-list', firstBad, `^${lastGood}`).split('\n')
    const blamed = framesIn(trace, this.dir).map(({ path, line }) =>
      this.#git('blame', '--porcelain', '-L', `${line},${line}`, firstBad, '--', path).slice(0, 40),
    )
    return [...new Set([...blamed.filter((sha) => gap.includes(sha)), ...gap])]
  }

  /** Work that breaks nothing, in one of the files: a remark above a line, a further function, another file, a version. */
  #honest(turn: number): void {
    const sources = Object.keys(this.#files).filter((path) => path.endsWith('.js'))
    const path = sources[Math.floor(this.#random() * sources.length)] ?? 'main.js'
    const lines = (this.#files[path] ?? '').split('\n')
    const kind = this.#random()
    if (kind < 0.55) {
      // Above a line that begins a statement of its own, at whatever depth.
      const places = lines.flatMap((line, at) => (STATEMENT.test(line) ? [at] : []))
      const at = places[Math.floor(this.#random() * places.length)] ?? 0
      const indent = /^\s*/.exec(lines[at] ?? '')?.[0] ?? ''
      lines.splice(at, 0, `${indent}// ${WORDS[turn % WORDS.length]}`)
      this.#files[path] = lines.join('\n')
    } else if (kind < 0.8) this.#files[path] = `${lines.join('\n')}function helper${turn}(value) {\n  return value\n}\n`
    else if (kind < 0.9) this.#files[`src/extra${turn}.js`] = `exports.extra = ${turn}\n`
    else this.#files['package.json'] = `{ "name": "${this.#program.name}", "version": "1.0.${turn}" }\n`
    const changed = kind < 0.8 ? path : kind < 0.9 ? `src/extra${turn}.js` : 'package.json'
    this.#write(changed)
    this.#commit(kind < 0.55 ? `Say more in ${changed}` : kind < 0.8 ? `A helper for ${changed}` : `Work on ${changed}`)
  }

  #write(path: string): void {
    const file = join(this.dir, path)
    mkdirSync(dirname(file), { recursive: true })
    writeFileSync(file, this.#files[path] ?? '')
  }

  #commit(message: string): string {
    this.#git('add', '--all')
    this.#git('commit', '--quiet', '-m', message)
    return this.#head()
  }

  #head(): string {
    return this.#git('rev-parse', 'HEAD')
  }

  #run() {
    return spawnSync(process.execPath, ['main.js'], { cwd: this.dir, encoding: 'utf8', env: { PATH: process.env.PATH } })
  }

  #git(...args: string[]): string {
    const date = `${1_790_000_000 + this.#tick++ * 3600} +0000`
    const person = { name: 'Kit Vale', email: 'kit@emberwick.example' }
    const { status, stdout, stderr } = spawnSync('git', args, {
      cwd: this.dir,
      encoding: 'utf8',
      env: {
        PATH: process.env.PATH,
        HOME: this.dir,
        GIT_CONFIG_NOSYSTEM: '1',
        GIT_CONFIG_GLOBAL: '/dev/null',
        GIT_AUTHOR_NAME: person.name,
        GIT_AUTHOR_EMAIL: person.email,
        GIT_COMMITTER_NAME: person.name,
        GIT_COMMITTER_EMAIL: person.email,
        GIT_AUTHOR_DATE: date,
        GIT_COMMITTER_DATE: date,
      },
    })
    if (status !== 0) throw new Error(`git ${args.join(' ')}: ${stderr}`)
    return stdout.trim()
  }
}

/** A line that begins a statement of its own. */
const STATEMENT = /^\s*(?:const|let|function|async function|return|if|for|module|exports)\b/
const WORDS = ['as people asked', 'kept short', 'see the handbook', 'once a second', 'by name', 'in the order of the plan', 'whole numbers']

/** The frames of a trace that lie in the program, as paths and lines. */
function framesIn(trace: string, dir: string): { path: string; line: number }[] {
  return [...trace.matchAll(/\(?(\/[^():\n]+\.js):(\d+):\d+\)?/g)].flatMap(([, file = '', line]) =>
    file.includes(dir) ? [{ path: file.slice(file.indexOf(dir) + dir.length + 1), line: Number(line) }] : [],
  )
}

// Cuts the power of a real server, many times over, without a machine to spare: a library that is loaded before libc records every write
// and sync below the data folder (record-writes.c), while several writers log items, comment, attach files and send errors. Then the record
// is played back up to some moment: what a sync had reached stands; of what came after it each block of 4
// KB is kept, or lost, by chance, and names of files that no sync of their folder had reached are those of
// some moment since. In each such folder everything that was answered before that moment has to be there,
// and `verify` has to find the tables, the journal and the files as they should be.
//
// It plays a disk that tells the truth about a sync, and a file system that keeps the order of its names, as ext4 and XFS do; it is no
// block device, so that what a file system itself might do wrong is not seen.
// usage: node scripts/durability/power-cut.mjs [--cuts 60] [--seconds 8] [--seed 1]; needs a build and a C compiler. Exits 1 at a loss.
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { AtWork, whatIsWrong } from './at-work.mjs'
import { option } from '../option.mjs'
import { makeRandom } from '../random.mjs'

const BLOCK = 4096
const PORT = 4797

/** The records of a log, in order. */
export function* readLog(bytes) {
  for (let at = 0; at + 25 <= bytes.length; ) {
    const [pathLength, dataLength] = [bytes.readUInt32LE(at + 17), bytes.readUInt32LE(at + 21)]
    const path = at + 25
    const data = path + pathLength
    if (data + dataLength > bytes.length) return
    yield {
      op: String.fromCharCode(bytes[at]),
      atNs: bytes.readBigInt64LE(at + 1),
      offset: Number(bytes.readBigInt64LE(at + 9)),
      path: bytes.toString('utf8', path, data),
      data: bytes.subarray(data, data + dataLength),
    }
    at = data + dataLength
  }
}

/** What one file holds: what a sync reached, and what was done since. */
class Content {
  #bytes = Buffer.alloc(0)
  #length = 0
  pending = []

  sync() {
    for (const step of this.pending) this.#apply(step)
    this.pending = []
  }

  /** As it may be after a cut: of what is pending each block is there by chance. */
  afterCut(random, keeps) {
    const copy = new Content()
    copy.#bytes = Buffer.from(this.#bytes.subarray(0, this.#length))
    copy.#length = this.#length
    for (const step of this.pending) {
      if (step.op === 'T') {
        if (keeps(random)) copy.#apply(step)
        continue
      }
      for (let at = 0; at < step.data.length; ) {
        const end = Math.min(step.data.length, at + BLOCK - ((step.offset + at) % BLOCK))
        if (keeps(random)) copy.#apply({ op: 'W', offset: step.offset + at, data: step.data.subarray(at, end) })
        at = end
      }
    }
    return copy.#bytes.subarray(0, copy.#length)
  }

  #apply({ op, offset, data }) {
    const end = op === 'T' ? offset : Math.max(this.#length, offset + data.length)
    if (end > this.#bytes.length) {
      const larger = Buffer.alloc(Math.max(end, this.#bytes.length * 2))
      this.#bytes.copy(larger, 0, 0, this.#length)
      this.#bytes = larger
    }
    // What lies between the old end and a write beyond it reads as zeros.
    if (op === 'T' && offset < this.#length) this.#bytes.fill(0, offset, this.#length)
    this.#length = end
    if (op === 'W') data.copy(this.#bytes, offset)
  }
}

/** A folder as a disk has it: names and contents, each as far as it was synced. */
export class Disk {
  /** Names as programs see them, and as they would be after a cut. */
  #live = new Map()
  #kept = new Map()
  #names = []

  take({ op, path, offset, data }) {
    if (path.endsWith('-shm')) return
    if (op === 'C') this.#create(path)
    else if (op === 'R') {
      const to = data.toString('utf8')
      const content = this.#live.get(path)
      if (!content) return
      this.#live.delete(path)
      this.#live.set(to, content)
      this.#names.push({
        folder: dirname(to),
        act: (names) => {
          names.delete(path)
          names.set(to, content)
        },
      })
    } else if (op === 'U') {
      this.#live.delete(path)
      this.#names.push({ folder: dirname(path), act: (names) => names.delete(path) })
    } else if (op === 'S') this.#sync(path)
    else (this.#live.get(path) ?? this.#create(path)).pending.push({ op, offset, data })
  }

  #create(path) {
    const known = this.#live.get(path)
    if (known) {
      known.pending.push({ op: 'T', offset: 0 })
      return known
    }
    const content = new Content()
    this.#live.set(path, content)
    this.#names.push({ folder: dirname(path), of: content, act: (names) => names.set(path, content) })
    return content
  }

  #sync(path) {
    const content = this.#live.get(path)
    content?.sync()
    // A folder's sync reaches the names in it, a file's its own first name; what was done to names before them goes along.
    const last = this.#names.findLastIndex((one) => one.folder === path || (content && one.of === content))
    for (const { act } of this.#names.splice(0, last + 1)) act(this.#kept)
  }

  /** The files that are there after a cut, by their paths; `random` decides what was lost. */
  afterCut(random) {
    const names = new Map(this.#kept)
    for (const { act } of this.#names.slice(0, random(this.#names.length + 1))) act(names)
    const mood = random(4)
    const keeps = mood === 0 ? () => false : mood === 1 ? () => true : (dice) => dice(2) === 0
    return new Map([...names].map(([path, content]) => [path, content.afterCut(random, keeps)]))
  }
}

/** Writes files that stood in one folder into another. */
function writeFiles(files, from, to) {
  for (const [path, bytes] of files) {
    const place = join(to, path.slice(from.length))
    mkdirSync(dirname(place), { recursive: true, mode: 0o700 })
    writeFileSync(place, bytes, { mode: 0o600 })
  }
}

/**
 * Records a server at work for so long, and looks at what so many cuts leave. `isDeaf` plays a disk that forgets what it was asked to keep,
 * to show that a loss would be seen.
 */
export async function cutPower({ cuts, seconds, seed, isDeaf = false }) {
  const scratch = realpathSync(mkdtempSync(join(tmpdir(), 'dystracer-power-')))
  const library = join(scratch, 'record-writes.so')
  const built = spawnSync('gcc', [
    '-O2',
    '-shared',
    '-fPIC',
    '-o',
    library,
    join(import.meta.dirname, 'record-writes.c'),
    '-ldl',
    '-lpthread',
  ])
  if (built.status !== 0) throw new Error(`the recorder could not be compiled: ${built.stderr ?? built.error}`)
  try {
    const dataDir = join(scratch, 'data')
    mkdirSync(dataDir, { mode: 0o700 })
    const log = join(scratch, 'writes.log')
    const env = { LD_PRELOAD: library, POWER_CUT_FOLDER: dataDir, POWER_CUT_LOG: log, UV_USE_IO_URING: '0' }
    const work = new AtWork({ dataDir, port: PORT, env })
    await work.start()
    await work.run(seconds * 1000)
    await work.kill()
    const { answered } = work
    if (!existsSync(log)) throw new Error('nothing was recorded: the loader did not take the recorder')
    const records = [...readLog(readFileSync(log))]
    const random = makeRandom(seed)
    const first = records.findIndex(({ atNs }) => atNs >= (answered[0]?.atNs ?? 0n))
    // Half of the cuts fall anywhere, half right after an answer, when the least is known to be safe.
    const moments = Array.from({ length: cuts }, (_, turn) => {
      if (turn % 2 === 0) return first + random(records.length - first)
      const { atNs } = answered[random(answered.length)]
      return Math.max(
        first,
        records.findLastIndex((record) => record.atNs <= atNs),
      )
    }).sort((a, b) => a - b)
    const disk = new Disk()
    let at = 0
    const losses = []
    for (const moment of moments) {
      for (; at <= moment; at++) if (!(isDeaf && at >= first && records[at].op === 'S')) disk.take(records[at])
      const folder = join(scratch, 'after')
      writeFiles(disk.afterCut(random), dataDir, folder)
      // The next record had not happened: everything answered before it counts.
      const atNs = records[moment + 1]?.atNs ?? BigInt(Number.MAX_SAFE_INTEGER) * 1000n
      const wrong = whatIsWrong(folder, answered, atNs)
      if (wrong.length > 0) losses.push({ moment, wrong })
      rmSync(folder, { recursive: true, force: true })
    }
    return { records: records.length, answered: answered.length, cuts: moments.length, losses }
  } finally {
    rmSync(scratch, { recursive: true, force: true })
  }
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) {
  const result = await cutPower({ cuts: option('--cuts', 60), seconds: option('--seconds', 8), seed: option('--seed', 1) })
  for (const { moment, wrong } of result.losses) console.error(`after record ${moment}: ${wrong.slice(0, 5).join('; ')}`)
  console.log(
    `${result.cuts} cuts in ${result.records} writes and syncs, ${result.answered} answers: ` +
      `${result.losses.length === 0 ? 'nothing that was answered is lost' : `${result.losses.length} lost something`}`,
  )
  process.exitCode = result.losses.length === 0 ? 0 : 1
}

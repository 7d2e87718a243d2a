// Kills a real server in the middle of its work, many times on the same data folder, and starts it again: what was answered has to be there
// after each, and `verify` has to find the folder sound every fifty kills and at the end.
// usage: node scripts/durability/kills.mjs [--kills 1000] [--seed 1]; needs a build. Exits 1 at a loss.
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { AtWork, whatIsMissing, whatIsWrong } from './at-work.mjs'
import { option } from '../option.mjs'
import { makeRandom } from '../random.mjs'

const PORT = 4798
const VERIFY_EVERY = 50
/** A server works so long before it is killed, at most. */
const LIFE_MAX_MS = 900
const NEVER_NS = 2n ** 62n

/** Kills it so many times; gives how much was answered, and what was lost. */
export async function killManyTimes({ kills, seed }) {
  const dataDir = join(mkdtempSync(join(tmpdir(), 'dystracer-kills-')), 'data')
  mkdirSync(dataDir, { mode: 0o700 })
  const random = makeRandom(seed)
  const work = new AtWork({ dataDir, port: PORT })
  const losses = []
  try {
    for (let turn = 1; turn <= kills; turn++) {
      await work.start()
      const running = work.run(60_000)
      await new Promise((resolve) => setTimeout(resolve, 30 + random(LIFE_MAX_MS)))
      await work.kill()
      await running
      const isThorough = turn % VERIFY_EVERY === 0 || turn === kills
      const wrong = (isThorough ? whatIsWrong : whatIsMissing)(dataDir, work.answered, NEVER_NS)
      if (wrong.length > 0) losses.push({ turn, wrong })
    }
    return { kills, answered: work.answered.length, losses }
  } finally {
    rmSync(join(dataDir, '..'), { recursive: true, force: true })
  }
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) {
  const { kills, answered, losses } = await killManyTimes({ kills: option('--kills', 1000), seed: option('--seed', 1) })
  for (const { turn, wrong } of losses) console.error(`kill ${turn}: ${wrong.slice(0, 5).join('; ')}`)
  console.log(
    `${kills} kills, ${answered} answers: ${losses.length === 0 ? 'nothing that was answered is lost' : `${losses.length} lost something`}`,
  )
  process.exitCode = losses.length === 0 ? 0 : 1
}

import { performance } from 'node:perf_hooks'
import { LikenessIndex } from '@dystracer/core/likeness/likeness-index'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { readWordVectors } from '../adapters/word-vectors.js'

const ITEMS = 200_000
const QUESTIONS = 200
const WORDS_PER_ITEM = 40

/** Look-alikes among 200,000 made-up items whose words follow Zipf's law, as in real texts; median and 95th percentile of one question. */
export async function benchItems(): Promise<Record<string, number>> {
  const words = readFileSync(join(import.meta.dirname, '../../data/words.txt'), 'utf8').split('\n')
  const random = makeRandom(7)
  // The rank is drawn so that its logarithm is uniform: frequent words come often, rare ones seldom.
  const word = () => words[Math.min(words.length - 1, Math.floor(Math.exp(random() * Math.log(words.length))))] ?? 'kiln'
  const text = (count: number) => Array.from({ length: count }, word).join(' ')
  const index = new LikenessIndex({ vectors: readWordVectors() })
  const startedMs = performance.now()
  for (let number = 1; number <= ITEMS; number++)
    index.add({ id: `EMB-${number}`, title: text(8), text: text(WORDS_PER_ITEM), scope: 'EMB', component: null })
  const buildSeconds = (performance.now() - startedMs) / 1000
  const tookMs: number[] = []
  for (let turn = 0; turn < QUESTIONS; turn++) {
    const question = { id: '', title: text(8), text: text(20), scope: 'EMB', component: null }
    const askedMs = performance.now()
    index.find(question, { limit: 12 })
    tookMs.push(performance.now() - askedMs)
  }
  tookMs.sort((a, b) => a - b)
  const at = (share: number) => Number((tookMs[Math.floor(tookMs.length * share)] ?? 0).toFixed(1))
  return { items: ITEMS, lookAlikesMedianMs: at(0.5), lookAlikesP95Ms: at(0.95), indexBuildSeconds: Number(buildSeconds.toFixed(1)) }
}

/** A small generator with a seed, so that each run asks the same. */
function makeRandom(seed: number): () => number {
  let state = seed
  return () => {
    state = (state * 1_103_515_245 + 12_345) % 2_147_483_648
    return state / 2_147_483_648
  }
}

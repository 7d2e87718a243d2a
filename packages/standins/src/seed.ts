import { mkdir, rm } from 'node:fs/promises'
import { buildWorld } from '#demo/build-world'

/** `node seed.js FOLDER DAY`: makes the demo's repositories and its past below the folder. */
const [dataDir, day] = process.argv.slice(2)
if (!dataDir || !day || !/^\d{4}-\d{2}-\d{2}$/.test(day)) {
  console.error('usage: seed.js FOLDER YYYY-MM-DD')
  process.exit(2)
}
await rm(dataDir, { recursive: true, force: true })
await mkdir(dataDir, { recursive: true })
await buildWorld({ dataDir, todayMs: Date.parse(`${day}T00:00:00Z`) })

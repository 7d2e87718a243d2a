// Tells fresh servers a recorded week of outside events, each in another order and a third of them twice, and holds what they made of it
// against what one made that heard them as they happened; every hundredth also verifies its folder.
// usage: node scripts/durability/orders.mjs [--orders 10000] [--seed 1]; needs a build. Exits 1 at the first order with another result.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { option } from '../option.mjs'
import { pathToFileURL } from 'node:url'

const VERIFY_EVERY = 100

/** Tries so many orders; gives how many facts were told, and the order that made something else of them, if one did. */
export async function tryOrders({ orders, seed, say = () => {} }) {
  const shared = mkdtempSync(join(tmpdir(), 'dystracer-orders-'))
  // Read as the harness is loaded: where the folder lies that every fresh server is copied from.
  process.env.DYSTRACER_TEST_SHARED = shared
  const { anotherOrder, evidenceOf, OutsideWeek } = await import('../../packages/server/dist/test/outside-week.js')
  const { verifyTables } = await import('../../packages/server/dist/verify-tables.js')
  const week = new OutsideWeek()
  let told = 0
  const evidenceAfter = async (facts, isThorough = false) => {
    const app = await week.freshApp()
    try {
      for (const fact of facts) {
        const { status } = await fact.send(app)
        if (status >= 300) throw new Error(`"${fact.name}" was answered with ${status}`)
        told++
      }
      const wrong = isThorough ? verifyTables({ db: app.ctx.db, dataDir: app.dataDir }) : []
      if (wrong.length > 0) throw new Error(`the journal does not rebuild the tables: ${JSON.stringify(wrong).slice(0, 500)}`)
      return evidenceOf(app)
    } finally {
      await app.stop()
    }
  }
  try {
    const expected = await evidenceAfter(week.facts)
    for (let turn = 1; turn <= orders; turn++) {
      const order = anotherOrder(week.facts, seed + turn)
      const evidence = await evidenceAfter(order, turn % VERIFY_EVERY === 0)
      if (evidence !== expected) return { told, other: { seed: seed + turn, order: order.map(({ name }) => name), evidence, expected } }
      if (turn % VERIFY_EVERY === 0) say(turn)
    }
    return { told, other: null }
  } finally {
    week.remove()
    rmSync(shared, { recursive: true, force: true })
  }
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) {
  const orders = option('--orders', 10_000)
  const { told, other } = await tryOrders({ orders, seed: option('--seed', 1), say: (turn) => console.error(`${turn} orders`) })
  if (other === null) console.log(`${orders} orders of a week, ${told} events told: one result`)
  else {
    console.error(`another result with seed ${other.seed}: ${other.order.join(', ')}`)
    const [got, wanted] = [other.evidence.split('\n'), other.expected.split('\n')]
    for (const line of got.filter((each) => !wanted.includes(each))) console.error(`+ ${line}`)
    for (const line of wanted.filter((each) => !got.includes(each))) console.error(`- ${line}`)
    process.exitCode = 1
  }
}

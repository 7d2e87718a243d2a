// Clears away what `before-tests.mjs` laid out. Jest calls this when all tests ended.
import { rmSync } from 'node:fs'

export default function afterTests() {
  rmSync(process.env.DYSTRACER_TEST_SHARED, { recursive: true, force: true })
}

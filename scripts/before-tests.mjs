// What tests need before the first of them: a client of the API's description, and a folder that the workers of a run share.
// Jest calls this; `after-tests.mjs` clears away.
import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import makeGeneratedClient from './generated-client.mjs'

export default async function beforeTests() {
  await makeGeneratedClient()
  process.env.DYSTRACER_TEST_SHARED = mkdtempSync(join(tmpdir(), 'dystracer-shared-'))
}

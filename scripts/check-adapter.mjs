// Holds the adapter of a code host against docs/guides/write-an-adapter.md, in a repository to play with.
// usage: node scripts/check-adapter.mjs URL --repository NAME --branch WITH-COMMITS [--token TOKEN]; prints
// a line for each claim, exits 1 when one does not hold, 2 for a wrong call. The branch is one that holds
// at least one commit beyond the main line; it is merged.
import { parseArgs } from 'node:util'

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    repository: { type: 'string' },
    branch: { type: 'string' },
    from: { type: 'string', default: 'main' },
    token: { type: 'string' },
    help: { type: 'boolean' },
  },
})
const [base] = positionals
const { repository, branch, from, token } = values
if (values.help || !base || !repository || !branch) {
  console.error('usage: node scripts/check-adapter.mjs URL --repository NAME --branch WITH-COMMITS [--from main] [--token TOKEN]')
  process.exit(2)
}

let failed = 0
async function claim(words, holds) {
  let why = ''
  try {
    why = (await holds()) ?? ''
  } catch (error) {
    why = error instanceof Error ? error.message : String(error)
  }
  if (why !== '') failed++
  console.log(`${why === '' ? 'holds' : 'FAILS'}  ${words}${why === '' ? '' : `: ${why}`}`)
}
async function ask(path, body) {
  const response = await fetch(new URL(path, base), {
    redirect: 'error',
    signal: AbortSignal.timeout(15_000),
    headers: { ...(body && { 'content-type': 'application/json' }), ...(token && { authorization: `Bearer ${token}` }) },
    ...(body && { method: 'POST', body: JSON.stringify(body) }),
  })
  const text = await response.text()
  return { status: response.status, body: text.startsWith('{') || text.startsWith('[') ? JSON.parse(text) : text }
}
const by = 'adapter-check'
const SHAPE = {
  repository: 'string',
  number: 'number',
  title: 'string',
  body: 'string',
  state: 'string',
  author: 'string',
  head: 'string',
  base: 'string',
  headSha: 'string',
  createdAtMs: 'number',
  updatedAtMs: 'number',
  version: 'number',
}
const misfits = (pr) =>
  Object.entries(SHAPE)
    .filter(([name, type]) => typeof pr?.[name] !== type)
    .map(([name]) => name)
    .concat(
      ['open', 'merged', 'closed'].includes(pr?.state) ? [] : ['state'],
      pr?.mergeSha === null || typeof pr?.mergeSha === 'string' ? [] : ['mergeSha'],
    )
const shaped = (pr) => (misfits(pr).length === 0 ? '' : `not as told: ${[...new Set(misfits(pr))].join(', ')}`)
const list = async () => (await ask(`/api/pull-requests?repository=${encodeURIComponent(repository)}`)).body
let opened

await claim('a branch is made at the tip of another', async () => {
  const { status } = await ask('/api/branches', { repository, branch: `check-${Date.now()}`, from, by })
  return status < 300 ? '' : `answered ${status}`
})
await claim('a branch that is there already is no error', async () => {
  const { status } = await ask('/api/branches', { repository, branch, from, by })
  return status < 300 ? '' : `answered ${status}`
})
await claim('a pull request is opened, whole', async () => {
  const { status, body } = await ask('/api/pull-requests', { repository, head: branch, by })
  opened = body
  return status < 300 ? shaped(body) : `answered ${status}`
})
await claim('asked again, the same one is given', async () => {
  const { body } = await ask('/api/pull-requests', { repository, head: branch, by })
  return body?.number === opened?.number ? '' : `gave ${body?.number} after ${opened?.number}`
})
await claim('it is listed, whole', async () => {
  const found = (await list()).find?.((pr) => pr.number === opened?.number)
  return found ? shaped(found) : 'it is not in the list'
})
await claim('it shows what it is told of a pull request, or has no place for that (404)', async () => {
  const told = { repository, number: opened?.number, sha: opened?.headSha, state: 'waiting', url: base, items: [], gates: [] }
  for (const summary of ['Nobody agrees yet', 'Everything holds']) {
    const { status } = await ask('/api/statuses', { ...told, summary })
    if (status >= 300 && ![404, 405, 501].includes(status)) return `answered ${status}`
  }
  return ''
})
await claim('it is merged', async () => {
  const { status } = await ask('/api/merges', { repository, number: opened?.number, by })
  const after = (await list()).find?.((pr) => pr.number === opened?.number)
  if (status >= 300) return `answered ${status}`
  return after?.state === 'merged' && typeof after.mergeSha === 'string' && after.version > opened.version
    ? ''
    : 'state, mergeSha or version do not show it'
})
await claim('what is merged already is refused', async () => {
  const { status } = await ask('/api/merges', { repository, number: opened?.number, by })
  return status >= 400 && status < 500 ? '' : `answered ${status}`
})
await claim('an unknown repository is refused', async () => {
  const { status } = await ask('/api/branches', { repository: 'no-such-repository', branch: 'x', from, by })
  return status >= 400 && status < 500 ? '' : `answered ${status}`
})
console.log(failed === 0 ? 'The adapter holds to the interface.' : `${failed} claims do not hold.`)
process.exit(failed === 0 ? 0 : 1)

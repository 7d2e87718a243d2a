import { parseArgs } from 'node:util'
import { BuildService } from '#build-service/build-service'
import { CodeHost } from '#code-host/code-host'
import { serveGit } from '#code-host/git-http'
import { Deployer, type DeployInput } from '#deployer/deployer'
import { Mailbox } from '#mailbox/mailbox'
import { PREPARED_CHANGES } from '#outside-page/changes'
import { mailPage, outsidePage } from '#outside-page/page'
import { makeEventSender } from '#wire/events'
import { makeServer, readFields, redirect, RequestError, sendJson } from '#wire/json-server'

const { values } = parseArgs({ options: { data: { type: 'string' }, port: { type: 'string' }, server: { type: 'string' } } })
const { data: dataDir = '', server: serverUrl = '' } = values
const port = Number(values.port)
const secret = process.env.STANDINS_SECRET ?? ''
const token = process.env.STANDINS_TOKEN ?? ''
let isMuted = false

const events = makeEventSender({ serverUrl, secret, isMuted: () => isMuted })
const codeHost = new CodeHost({ dataDir, events })
const builds = new BuildService({ dataDir, serverUrl, token })
const deployer = new Deployer({ dataDir, gitDir: codeHost.gitDir, events, telemetry: { serverUrl, token } })
const mailbox = new Mailbox()

/** What the forms of the page do; each gives a line that says what happened. */
const DEEDS: Record<string, (fields: Record<string, string>) => Promise<string>> = {
  unplug: async ({ kiln = '' }) => {
    await deployer.setSensor(kiln, false)
    return `The sensor of kiln ${kiln} is unplugged.`
  },
  plug: async ({ kiln = '' }) => {
    await deployer.setSensor(kiln, true)
    return `The sensor of kiln ${kiln} is back.`
  },
  push: async ({ branch = '', change = '', message = '', by = 'ines' }) => {
    const prepared = PREPARED_CHANGES[change]
    if (!prepared) throw new RequestError(422, 'no such change')
    await codeHost.pushChange({ repository: prepared.repository, branch, message, by, files: prepared.files })
    return `Pushed to ${branch}.`
  },
  open: async ({ branch = '', by = 'ines' }) => {
    const [repository = '', head = ''] = branch.split(': ')
    return `Pull request ${(await codeHost.openPullRequest({ repository, head, by })).number} is open.`
  },
  merge: async ({ repository = '', number = '', method = 'merge', by = 'rafe' }) => {
    await codeHost.merge({ repository, number: Number(number), by, method })
    return `Pull request ${number} is merged.`
  },
  tag: async ({ repository = '', name = '' }) => {
    await codeHost.tag({ repository, name })
    return `Tagged ${name}.`
  },
  answer: async ({ id = '', text = '' }) => {
    await mailbox.answer(Number(id), text, port + 2)
    return 'The answer is sent.'
  },
  mute: async ({ on = '' }) => {
    isMuted = on === 'yes'
    return isMuted ? 'Events are lost from now on.' : 'Events are sent again.'
  },
}

const server = makeServer([
  {
    method: '*',
    path: /^\/git\//,
    handle: async (request, response, url) => {
      const { repository, isPush } = await serveGit(request, response, url, codeHost.gitDir)
      if (isPush) await codeHost.afterPush(repository)
    },
  },
  {
    method: 'GET',
    path: /^\/$/,
    handle: async (_request, response, url) => {
      response.writeHead(200, { 'content-type': 'text/html; charset=utf-8' })
      response.end(await outsidePage({ codeHost, deployer, message: url.searchParams.get('said') ?? '' }))
    },
  },
  {
    method: 'GET',
    path: /^\/mail$/,
    handle: (_request, response, url) => {
      response.writeHead(200, { 'content-type': 'text/html; charset=utf-8' })
      response.end(mailPage(mailbox, url.searchParams.get('said') ?? ''))
    },
  },
  {
    method: 'POST',
    path: /^\/do\/\w+$/,
    handle: async (request, response, url) => {
      const deed = DEEDS[url.pathname.slice(4)]
      if (!deed) throw new RequestError(404, 'no such deed')
      const said = await deed(await readFields(request))
      redirect(response, `${url.pathname === '/do/answer' ? '/mail' : '/'}?said=${encodeURIComponent(said)}`)
    },
  },
  {
    method: 'POST',
    path: /^\/api\/branches$/,
    handle: async (request, response) => {
      await codeHost.createBranch((await readFields(request)) as never)
      sendJson(response, {})
    },
  },
  {
    method: 'GET',
    path: /^\/api\/pull-requests$/,
    handle: (_request, response, url) => sendJson(response, codeHost.list(url.searchParams.get('repository') ?? undefined)),
  },
  {
    method: 'POST',
    path: /^\/api\/pull-requests$/,
    handle: async (request, response) => sendJson(response, await codeHost.openPullRequest((await readFields(request)) as never)),
  },
  {
    method: 'POST',
    path: /^\/api\/statuses$/,
    handle: async (request, response) => {
      codeHost.showStatus((await readFields(request)) as never)
      sendJson(response, {})
    },
  },
  {
    method: 'POST',
    path: /^\/api\/merges$/,
    handle: async (request, response) => sendJson(response, await codeHost.merge((await readFields(request)) as never)),
  },
  {
    method: 'POST',
    path: /^\/api\/deployments$/,
    handle: async (request, response) => {
      await deployer.deploy((await readFields(request)) as unknown as DeployInput)
      sendJson(response, {})
    },
  },
  {
    method: 'GET',
    path: /^\/api\/mail$/,
    handle: (_request, response, url) => sendJson(response, mailbox.mails.slice(0, Number(url.searchParams.get('limit') ?? Infinity))),
  },
  {
    method: 'POST',
    path: /^\/api\/ready$/,
    handle: (_request, response) => {
      // Dystracer answers from now on: the programs may start and send.
      void builds.start().catch((error: unknown) => console.error(`the build machine did not start: ${String(error)}`))
      void deployer.resume().catch((error: unknown) => console.error(`a program did not start: ${String(error)}`))
      sendJson(response, {})
    },
  },
])

await codeHost.start()
await mailbox.listen(port + 1)
await new Promise<void>((resolve, reject) => server.once('error', reject).listen(port, '127.0.0.1', () => resolve()))
console.log('outside is ready')

let isStopping = false
async function stop(): Promise<void> {
  if (isStopping) return
  isStopping = true
  await Promise.all([deployer.stopAll(), builds.stop()])
  server.closeAllConnections()
  server.close()
  await mailbox.close()
  process.exit(0)
}
process.on('SIGTERM', () => void stop())
process.on('SIGINT', () => void stop())
// The server holds our standard input open: should it be killed, nothing of ours stays behind.
process.stdin.on('end', () => void stop()).resume()

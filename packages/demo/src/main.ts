import { Command } from 'commander'
import { runUntilSignal, withPlace } from '@dystracer/server/cli/frame'
import { makeConfig, type CommandOptions } from '@dystracer/server/platform/config/config'
import { readEnv } from '@dystracer/server/platform/config/env'
import { runDemo } from './run-demo.js'

const say = (line: string) => process.stdout.write(`${line}\n`)
const SIGN_IN_HINT = 'In the demo: ines@emberwick.example (a lead), password ines-emberwick; likewise rafe, tam, mara, noor, teo and wren.'
const program = new Command('dystracer').description('The demo: Emberwick, a made-up cooperative of pottery studios')

withPlace(program.command('demo').description('start with demo data and stand-ins')).action(async (options: CommandOptions) => {
  const config = { ...makeConfig('demo', readEnv(), options), signInHint: SIGN_IN_HINT }
  await runUntilSignal(runDemo(config, say))
  say(
    `Accounts: ines (lead), rafe, tam, mara, noor (members), teo (admin), wren (reader), each @emberwick.example; password: the name followed by -emberwick`,
  )
  say(`Outside (code host, builds, deployer, mail) is at ${config.outsideUrl}`)
  say(`Dystracer is ready at http://127.0.0.1:${config.port}`)
})

program.parseAsync().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`)
  process.exit(1)
})

import { Command } from 'commander'
import { keepFilesPrivate, runUntilSignal, withPlace } from '@dystracer/server/cli/frame'
import { makeConfig, type CommandOptions } from '@dystracer/server/platform/config/config'
import { readEnv } from '@dystracer/server/platform/config/env'
import { runDemo } from './run-demo.js'
import { TOUR } from './tour.js'

keepFilesPrivate()
const say = (line: string) => process.stdout.write(`${line}\n`)
const SIGN_IN_HINT = 'In the demo: ines@emberwick.example (a lead), password ines-emberwick; likewise rafe, tam, mara, noor, teo and wren.'
const program = new Command('dystracer').description('The demo: Emberwick, a made-up cooperative of pottery studios')

const LOOPBACK = /^(?:127(?:\.\d{1,3}){3}|::1|localhost)$/

withPlace(
  program
    .command('demo')
    .description('start with demo data and stand-ins')
    .option('--yes-anyone-may-sign-in', 'listen on other addresses than loopback, with passwords that everybody knows'),
).action(async (options: CommandOptions & { yesAnyoneMaySignIn?: boolean }) => {
  const { host } = makeConfig('demo', readEnv(options.config), options)
  if (!LOOPBACK.test(host) && !options.yesAnyoneMaySignIn)
    throw new Error(
      `The demo's passwords are known to everybody, and whoever reaches ${host} could read it unsigned, sign in as an ` +
        `administrator, have git and the stand-ins run, and send mail from here. Listen on 127.0.0.1, or say --yes-anyone-may-sign-in.`,
    )
  const config = { ...makeConfig('demo', readEnv(options.config), options), signInHint: SIGN_IN_HINT, tour: TOUR }
  await runUntilSignal(runDemo(config, say))
  say(
    `Accounts: ines (lead), rafe, tam, mara, noor (members), teo (admin), wren (reader), each @emberwick.example; ` +
      `password: the name followed by -emberwick`,
  )
  say(`Outside (code host, builds, deployer, mail) is at ${config.outsideUrl}`)
  say(`Dystracer is ready at http://127.0.0.1:${config.port}`)
})

program.parseAsync().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`)
  process.exit(1)
})

import { Command } from 'commander'
import { makeConfig, type CommandOptions } from '#platform/config/config'
import { readEnv } from '#platform/config/env'
import { SCOPES } from '@dystracer/core/people/who'
import { rehearse, restore, runBackups } from './backup.js'
import { token, verify, verifyBundle, type TokenOptions } from './commands.js'
import { keepFilesPrivate, runUntilSignal, withPlace } from './frame.js'

keepFilesPrivate()
const say = (line: string) => process.stdout.write(`${line}\n`)
const program = new Command('dystracer').description('From a runtime error to a verified fix, traced to its requirement')

withPlace(program.command('start').description('start the server on a data folder')).action(async (options: CommandOptions) =>
  // The server is loaded only here: the other commands answer at once.
  runUntilSignal(import('./start.js').then(({ start }) => start(makeConfig('real', readEnv(options.config), options), say))),
)
withPlace(
  program
    .command('token')
    .description('print a new access token')
    .requiredOption('--name <name>')
    .option('--project <prefix>')
    .option('--scope <scope>', SCOPES.join(', '), 'read')
    .option('--service <name...>', 'the only services whose telemetry it sends')
    .option('--origin <origin...>', 'the only web origins whose pages send with it')
    .option('--days <days>', 'after how many days it ends; never without'),
).action((options: CommandOptions & TokenOptions) => {
  say(token(options, options))
})
withPlace(
  program
    .command('verify')
    .description('check the journal, rebuild the tables from it and compare; prints its head')
    .option('--head <seq:hash>', 'a head that was kept elsewhere: says whether that entry is still there as it was')
    .option('--bundle <file>', 'instead, whether the record of a release is whole and as it was signed; needs no data folder')
    .option('--key <fingerprint>', 'of the installation that is to have signed it'),
).action(async (options: CommandOptions & { head?: string; bundle?: string; key?: string }) => {
  const isSound = options.bundle === undefined ? await verify(options, say) : verifyBundle(options.bundle, options.key, say)
  process.exitCode = isSound ? 0 : 1
})
withPlace(
  program
    .command('backup')
    .description('consistent copy of the data folder, while running or not; with --keep a row of them, each tried')
    .argument('<place>', 'the file to write, or with --keep the folder of the row')
    .option('--keep <number>', 'keep so many in a row, and restore the newest for a trial')
    .option('--every <hours>', 'go on, one every so many hours, such as 24h'),
).action((place: string, options: CommandOptions & { keep?: string; every?: string }) => runBackups(options, place, options, say))
withPlace(program.command('restore').description('bring a backup into an empty data folder').argument('<file>')).action(
  (file: string, options: CommandOptions) => restore(options, file, say),
)
withPlace(
  program
    .command('rehearse')
    .description('restore the newest backup beside the data and verify it')
    .argument('<place>', 'a backup, or the folder of a row'),
).action((place: string, options: CommandOptions) => rehearse(options, place, say))
program.parseAsync().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`)
  process.exit(1)
})

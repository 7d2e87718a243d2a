import { Command } from 'commander'
import { makeConfig, type CommandOptions } from '#platform/config/config'
import { readEnv } from '#platform/config/env'
import type { Scope } from '@dystracer/core/people/who'
import { backup, restore, start, token, verify } from './commands.js'
import { runUntilSignal, withPlace } from './frame.js'

const say = (line: string) => process.stdout.write(`${line}\n`)
const program = new Command('dystracer').description('From a runtime error to a verified fix, traced to its requirement')

withPlace(program.command('start').description('start the server on a data folder')).action(async (options: CommandOptions) =>
  runUntilSignal(start(makeConfig('real', readEnv(), options), say)),
)
withPlace(
  program
    .command('token')
    .description('print a new access token')
    .requiredOption('--name <name>')
    .option('--project <prefix>')
    .option('--scope <scope>', 'intake, read, write or admin', 'read'),
).action((options: CommandOptions & { name: string; project?: string; scope: string }) => {
  if (!['intake', 'read', 'write', 'admin'].includes(options.scope))
    throw new Error(`--scope must be intake, read, write or admin, not ${options.scope}`)
  say(token(options, { name: options.name, project: options.project ?? null, scope: options.scope as Scope }))
})
withPlace(program.command('verify').description('rebuild the tables from the journal and compare')).action((options: CommandOptions) => {
  process.exitCode = verify(options, say) ? 0 : 1
})
withPlace(program.command('backup').description('consistent copy of the data folder, while running or not').argument('<file>')).action(
  (file: string, options: CommandOptions) => backup(options, file, say),
)
withPlace(program.command('restore').description('bring a backup into an empty data folder').argument('<file>')).action(
  (file: string, options: CommandOptions) => restore(options, file, say),
)
program.parseAsync().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`)
  process.exit(1)
})

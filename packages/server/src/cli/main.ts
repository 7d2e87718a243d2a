import { Command } from 'commander'
import { makeConfig, type CommandOptions } from '#platform/config/config'
import { readEnv } from '#platform/config/env'
import type { Scope } from '@dystracer/core/people/who'
import { backup, restore, runBench, start, token, verify } from './commands.js'
import { evalDuplicates, evalLinks, evalRequirements, evalTraces } from './eval.js'
import { runDemo } from './run-demo.js'

const say = (line: string) => process.stdout.write(`${line}\n`)
const program = new Command('dystracer').description('From a runtime error to a verified fix, traced to its requirement')

function withPlace(command: Command): Command {
  return command
    .option('--port <number>', 'port of the server')
    .option('--data <folder>', 'data folder')
    .option('--host <address>', 'address to listen on')
}

withPlace(program.command('demo').description('start with demo data and stand-ins')).action(async (options: CommandOptions) => {
  const config = makeConfig('demo', readEnv(), options)
  await runUntilSignal(runDemo(config, say))
  say(
    `Accounts: ines (lead), rafe, tam, mara, noor (members), teo (admin), wren (reader), each @emberwick.example; password: the name followed by -emberwick`,
  )
  say(`Outside (code host, builds, deployer, mail) is at ${config.outsideUrl}`)
  say(`Dystracer is ready at http://127.0.0.1:${config.port}`)
})
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
program
  .command('bench')
  .description('run the benchmarks')
  .argument('[name]')
  .action((name: string | undefined) => runBench(name, say))

const evaluate = program.command('eval').description('print predictions on sample data, one JSON line each')
evaluate
  .command('traces')
  .argument('<file>')
  .action((file: string) => evalTraces(file, say))
evaluate
  .command('duplicates')
  .argument('<reports>')
  .action((reports: string) => evalDuplicates(reports, say))
evaluate
  .command('links')
  .argument('<reports>')
  .argument('<commits>')
  .action((reports: string, commits: string) => evalLinks(reports, commits, say))
evaluate
  .command('requirements')
  .argument('<reports>')
  .argument('<requirements>')
  .action((reports: string, requirements: string) => evalRequirements(reports, requirements, say))

/** Resolves once all is started. A signal, also one that comes during the start, stops cleanly what is there. */
async function runUntilSignal(starting: Promise<() => Promise<void>>): Promise<void> {
  let isStopping = false
  const end = () => {
    if (isStopping) return
    isStopping = true
    starting
      .then((stop) => stop())
      .then(
        () => process.exit(0),
        (error: unknown) => {
          process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`)
          process.exit(1)
        },
      )
  }
  process.on('SIGINT', end)
  process.on('SIGTERM', end)
  await starting
}

program.parseAsync().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`)
  process.exit(1)
})

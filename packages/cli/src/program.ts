import { Command } from 'commander'
import { REPORT_FORMATS } from '@dystracer/core/builds/report-format'
import { build, type BuildOptions } from './commands/build.js'
import { deployed } from './commands/deployed.js'
import { log, type LogOptions } from './commands/log.js'
import { report, type ReportOptions } from './commands/report.js'
import { run, type RunOptions } from './commands/run.js'
import { verify, type VerifyOptions } from './commands/verify.js'
import type { Surroundings } from './surroundings.js'

/** The companion's command line. Whatever a command throws comes out of `parseAsync`. */
export function dys(surroundings: Surroundings): Command {
  const program = new Command('dys')
    .description('The companion of Dystracer: reports builds, runs their steps and logs items from a shell, a script or a build.')
    .showHelpAfterError()
    .exitOverride()
  const withServer = (command: Command) =>
    command
      .option('--url <address>', 'where Dystracer answers (else DYSTRACER_URL)')
      .option('--token <token>', 'a token (better DYSTRACER_TOKEN: a command line can be read by others)')
  withServer(program.command('report'))
    .description('Reports a build: that it started, its files, that it ended.')
    .argument('[files...]', `reports of the build, in any of ${REPORT_FORMATS.join(', ')}`)
    .requiredOption('--build <name>', 'what the build is called in its repository: a number, or any name')
    .option('--repository <name>', 'else the name of git’s origin')
    .option('--commit <sha>', 'else the commit that is checked out')
    .option('--branch <name>', 'else the branch that is checked out')
    .option('--format <format>', 'else told from how each file begins')
    .option('--started', 'say first that the build started')
    .option('--ended <outcome>', 'say last that it ended: passed or broke')
    .action((files: string[], options: ReportOptions) => report(files, options, surroundings))
  withServer(program.command('run'))
    .description('Runs a program and sends what it prints as the log of a build, while it runs; ends as the program does.')
    .argument('<program...>', 'the program and what it is told, after "--"')
    .requiredOption('--build <name>', 'what the build is called in its repository: a number, or any name')
    .option('--step <name>', 'the program is one step of the build; else it is the whole build, which starts and ends with it')
    .option('--repository <name>', 'else the name of git’s origin')
    .option('--commit <sha>', 'else the commit that is checked out')
    .option('--branch <name>', 'else the branch that is checked out')
    .action((program: string[], options: RunOptions) => run(program, options, surroundings))
  withServer(program.command('build'))
    .description('Builds this folder as its .dystracer/build.yml says; with --wait, is a build machine for what is wanted in Dystracer.')
    .option('--build <name>', 'what the build is called: then it is told of, with its steps, logs, reports and files')
    .option(
      '--repository <name>',
      'else the name of git’s origin; with --wait which are built, may be said several times',
      (name: string, before: string[]) => [...before, name],
      [],
    )
    .option('--commit <sha>', 'else the commit that is checked out')
    .option('--branch <name>', 'else the branch that is checked out')
    .option('--wait', 'take the builds that are wanted, one after the other, until it is stopped')
    .option('--once', 'take those that are wanted now, and end')
    .option('--machine <name>', 'what this machine is called; else the name of the host')
    .option('--folder <path>', 'where repositories are kept and built; else .cache/dystracer-builds at home')
    .action((options: BuildOptions) => build(options, surroundings))
  withServer(program.command('deployed'))
    .description('Says that a release runs in an environment now.')
    .argument('<service>')
    .argument('<release>', 'as its tag names it, such as 4.1.4')
    .argument('<environment>')
    .action((service: string, release: string, environment: string, options: { url?: string; token?: string }) =>
      deployed({ service, release, environment }, options, surroundings),
    )
  withServer(program.command('verify'))
    .description('Says which build left a file, of which commit and release, by what it holds; ends with 1 where none did.')
    .argument('<files...>')
    .option('--provenance <file>', 'without a server: the signed statement of the build that was kept, with --key')
    .option('--key <file>', 'the public key that signed it, in PEM')
    .action((files: string[], options: VerifyOptions) => verify(files, options, surroundings))
  withServer(program.command('log'))
    .description('Logs an item; prints its key and address.')
    .argument('[title]')
    .option('--from-last-error <service>', 'for the fault that this service sent last; an item that stands for it already is named instead')
    .option('--project <prefix>', 'else the first project that the token may log in')
    .option('--type <type>', 'the type of the item', 'defect')
    .option('--severity <n>', '1 (the worst) to 5')
    .option('--component <name>')
    .option('--label <name>', 'may be said several times', (name: string, before: string[]) => [...before, name], [])
    .option('--text <markdown>', 'the description; "-" takes what is piped in')
    .option('--requirement <key>', 'the requirement that it is about')
    .option('--parent <key>', 'the item that it is a part of')
    .action((title: string | undefined, options: LogOptions) => log(title, options, surroundings))
  return program
}

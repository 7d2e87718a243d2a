import { Command } from 'commander'
import { benches } from './bench.js'
import { evalCauses, evalFailures } from './eval-causes.js'
import { evalTrace } from './eval-trace.js'
import { evalWriting } from './eval-writing.js'
import { evalDuplicates, evalLinks, evalRequirements, evalTraces } from './eval.js'

const say = (line: string) => process.stdout.write(`${line}\n`)
const program = new Command('dystracer').description('Measures of speed and of quality')

program
  .command('bench')
  .description('run the benchmarks')
  .argument('[name]')
  .option('--commits <number>', 'how long the history of the benchmark "history" is', Number)
  .action((name: string | undefined, options: { commits?: number }) => runBench(name, options, say))

const evaluate = program.command('eval').description('print predictions on sample data, one JSON line each')
evaluate
  .command('writing')
  .description('what may be wrong with how requirements are written: lines {id, text}')
  .argument('<file>')
  .action((file: string) => evalWriting(file, say))
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

evaluate
  .command('causes')
  .argument('<folder>')
  .action((folder: string) => evalCauses(folder, say))
evaluate
  .command('failures')
  .argument('<folder>')
  .action((folder: string) => evalFailures(folder, say))

evaluate
  .command('trace')
  .argument('<folder>')
  .action((folder: string) => evalTrace(folder, say))

async function runBench(name: string | undefined, options: { commits?: number }, print: (line: string) => void): Promise<void> {
  const chosen = Object.entries(benches).filter(([known]) => name === undefined || known === name)
  if (chosen.length === 0) throw new Error(`there is no benchmark ${name}; there are ${Object.keys(benches).join(', ')}`)
  for (const [known, bench] of chosen) {
    const figures = await bench(options)
    print(known)
    for (const [label, value] of Object.entries(figures)) print(`  ${label.padEnd(34)} ${value}`)
    print(JSON.stringify({ bench: known, ...figures }))
  }
}

program.parseAsync().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`)
  process.exit(1)
})

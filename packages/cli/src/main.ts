import { readFileSync } from 'node:fs'
import { CommanderError } from 'commander'
import { dys } from './program.js'
import { Refusal } from './refusal.js'

const STANDARD_INPUT = 0

try {
  await dys({
    env: process.env,
    cwd: process.cwd(),
    say: (line) => console.log(line),
    print: (chunk, to) => (to === 'out' ? process.stdout : process.stderr).write(chunk),
    exitWith: (code) => {
      process.exitCode = code
    },
    readInput: () => readFileSync(STANDARD_INPUT, 'utf8'),
  }).parseAsync()
} catch (error) {
  if (error instanceof CommanderError) {
    // Commander has said it already; asking for help is no failure.
    process.exitCode = error.exitCode === 0 ? 0 : 2
  } else if (error instanceof Refusal) {
    console.error(error.message)
    process.exitCode = error.exitCode
  } else throw error
}

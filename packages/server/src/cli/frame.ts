import type { Command } from 'commander'

/** The options that every command with a data folder takes. */
export function withPlace(command: Command): Command {
  return command
    .option('--port <number>', 'port of the server')
    .option('--data <folder>', 'data folder')
    .option('--host <address>', 'address to listen on')
    .option('--config <file>', 'lines NAME=value of the variables in docs/guides/run-it.md; the environment wins')
}

/** Files that this process and its children make are for their owner alone: data, logs, backups, the keys of what is sent. */
export function keepFilesPrivate(): void {
  process.umask(0o077)
}

/** Resolves once all is started. A signal, also one that comes during the start, stops cleanly what is there. */
export async function runUntilSignal(starting: Promise<() => Promise<void>>): Promise<void> {
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

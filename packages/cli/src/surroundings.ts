/** What a command sees of the machine that it runs on; tests give their own. */
export interface Surroundings {
  env: Readonly<Record<string, string | undefined>>
  cwd: string
  /** Writes a line for people. */
  say: (line: string) => void
  /** Passes on what a program that we started printed. */
  print: (chunk: Uint8Array, to: 'out' | 'error') => void
  /** With which code the companion ends. */
  exitWith: (code: number) => void
  /** The text that was piped into the command. */
  readInput: () => string
}

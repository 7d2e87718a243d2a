/** A wrong call of the companion or a thing that it cannot do: told in words, without a trace. */
export class Refusal extends Error {
  readonly exitCode: number

  /** `exitCode`: 1 for what the server refused, 2 for a wrong call, 3 for a server that cannot be reached. */
  constructor(message: string, { exitCode }: { exitCode: 1 | 2 | 3 }) {
    super(message)
    this.name = 'Refusal'
    this.exitCode = exitCode
  }
}

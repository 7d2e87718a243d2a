/** Fails at compile time when a union gains a member that a switch does not handle, and at run time with the value. */
export function assertNever(value: never): never {
  throw new Error(`unhandled variant: ${JSON.stringify(value)}`)
}

/**
 * The server asks for the password once more before a token, a role or a link to a password is given, if it is a while since it was typed.
 * Whatever request meets that waits here until the dialog has it, and is then sent again: nothing typed is lost.
 */
let waiting: ((isGiven: boolean) => void)[] = []
const listeners = new Set<() => void>()
const tell = () => {
  for (const listener of listeners) listener()
}

/** Waits until somebody has typed the password, or does not want to. */
export function askForProof(): Promise<boolean> {
  return new Promise((resolve) => {
    waiting = [...waiting, resolve]
    tell()
  })
}

/** Lets the requests that wait go on, or be refused. */
export function proofIs(isGiven: boolean): void {
  const resolved = waiting
  waiting = []
  tell()
  for (const resolve of resolved) resolve(isGiven)
}

/** Whether a request waits, for `useSyncExternalStore`. */
export const isProofAsked = (): boolean => waiting.length > 0
export function onProof(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

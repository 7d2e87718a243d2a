import type { ProblemCode } from '@dystracer/core/basics/problem-catalogue'
import type { ProblemDetails } from '@dystracer/core/basics/wire'

/** What a person reads when something failed, by code; the server's own detail is shown with it. */
export const PROBLEM_TEXT: Record<ProblemCode | 'unreachable', string> = {
  'ambiguous-reference': 'Several things bear this name. Choose one.',
  'malformed-body': 'The server could not read what was sent.',
  'invalid-input': 'Something in it is not acceptable.',
  'filter-not-understood': 'The filter was not understood.',
  'sign-in-required': 'Sign in to do this. What you wrote is kept.',
  'second-factor-needed': 'Type the code that your authenticator shows.',
  'wrong-credentials': 'The address or the password is wrong.',
  'wrong-token': 'This link or token is not valid.',
  'wrong-signature': 'The signature does not match.',
  'proof-needed': 'Your password is asked for once more before this. Nothing was changed.',
  'not-allowed': 'Your role does not allow this.',
  'csrf-failed': 'Reload the page and try again.',
  'not-found': 'It is not there.',
  'method-not-allowed': 'This cannot be done here.',
  conflict: 'This does not fit what is there now.',
  'past-not-open': 'This moment has to be made ready first. Try again.',
  'past-is-read-only': 'What is past cannot be changed. Go back to now first.',
  'decided-already': 'Someone has decided on it meanwhile.',
  'changed-meanwhile': 'Someone changed it meanwhile. What you wrote is kept; look at the new text and save again.',
  'too-large': 'It is too large.',
  'unsupported-content': 'This kind of content is not taken.',
  'gate-closed': 'A condition for this step is not met yet.',
  'too-many-requests': 'Too many tries. Wait a little.',
  'outside-unreachable': 'The outside service did not answer.',
  'disk-full': 'The server has no room left; nothing was stored. Its operator has to make room.',
  'took-too-long': 'This took too long. Ask for less: a narrower filter, or fewer things at once.',
  busy: 'The server is busy. Try again.',
  internal: 'Something went wrong on the server. Nothing was changed.',
  unreachable: 'The server did not answer. What you wrote is kept here.',
}

export function problemText(problem: unknown): string {
  const details = problem as Partial<ProblemDetails> | undefined
  const text = PROBLEM_TEXT[(details?.code ?? 'internal') as ProblemCode] ?? details?.title ?? PROBLEM_TEXT.internal
  const fields = Object.values(details?.fields ?? {})
  return [details?.detail ?? text, ...fields].join(' ')
}

/** What is wrong with one field, if the problem names it. */
export function fieldProblem(problem: unknown, field: string): string | undefined {
  return (problem as Partial<ProblemDetails> | undefined)?.fields?.[field]
}

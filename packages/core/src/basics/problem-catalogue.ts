/** Every expected failure: code, HTTP status and title. `docs/reference/problems.md` lists the same codes. */
export const PROBLEM_CATALOGUE = {
  'ambiguous-reference': { status: 300, title: 'Several things bear this name' },
  'malformed-body': { status: 400, title: 'The body could not be read' },
  'invalid-input': { status: 422, title: 'Some of the input is not acceptable' },
  'filter-not-understood': { status: 400, title: 'The filter was not understood' },
  'sign-in-required': { status: 401, title: 'Sign in first' },
  'second-factor-needed': { status: 401, title: 'This account asks for a code, too' },
  'wrong-credentials': { status: 401, title: 'Name or password is wrong' },
  'wrong-token': { status: 401, title: 'The access token is missing or not valid' },
  'wrong-signature': { status: 401, title: 'The signature does not match' },
  'proof-needed': { status: 403, title: 'Show once more that it is you' },
  'not-allowed': { status: 403, title: 'Your role does not allow this' },
  'csrf-failed': { status: 403, title: 'The request did not come from this application' },
  'not-found': { status: 404, title: 'There is nothing here' },
  'method-not-allowed': { status: 405, title: 'This cannot be done here' },
  conflict: { status: 409, title: 'This does not fit what is there now' },
  'past-not-open': { status: 409, title: 'This moment is not ready to be looked at yet' },
  'past-is-read-only': { status: 409, title: 'What is past cannot be changed' },
  'decided-already': { status: 409, title: 'Someone decided on this meanwhile' },
  'changed-meanwhile': { status: 412, title: 'Someone changed this meanwhile' },
  'too-large': { status: 413, title: 'The body is larger than this path takes' },
  'unsupported-content': { status: 415, title: 'This content type is not taken here' },
  'gate-closed': { status: 409, title: 'A condition for this step is not met' },
  'too-many-requests': { status: 429, title: 'Too many requests' },
  'outside-unreachable': { status: 502, title: 'The outside service did not answer' },
  'disk-full': { status: 507, title: 'There is no room left on the server' },
  'took-too-long': { status: 503, title: 'This took too long' },
  busy: { status: 503, title: 'Too busy at the moment' },
  internal: { status: 500, title: 'Something went wrong here' },
} as const

/** The code of a problem, as it stands in `code` of every refusal and in docs/reference/problems.md. */
export type ProblemCode = keyof typeof PROBLEM_CATALOGUE

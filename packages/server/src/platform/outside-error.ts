/** The outside service refused or did not answer; the message says which and why. */
export class OutsideError extends Error {}

/** The outside service refused or did not answer; the message says which and why. */
export class OutsideError extends Error {
  /** The status that it answered by HTTP; null where it did not answer, or speaks another protocol. */
  readonly status: number | null

  constructor(message: string, { status = null, cause }: { status?: number | null; cause?: unknown } = {}) {
    super(message, { cause })
    this.status = status
  }
}

/** A mail server answers, and does not take this one message: another may well get through. `isFinal` where trying again is no use. */
export class MessageRefused extends OutsideError {
  readonly isFinal: boolean

  constructor(message: string, { isFinal, cause }: { isFinal: boolean; cause?: unknown }) {
    super(message, { cause })
    this.isFinal = isFinal
  }
}

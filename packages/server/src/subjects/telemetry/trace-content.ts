/** A stack trace without its head `type: message` where it has exactly that; what is left is the same for every message. */
export function cutHead(stacktrace: string, type: string, message: string): { text: string; isHeadCut: boolean } {
  const head = `${type}: ${message}`
  return type !== '' && stacktrace.startsWith(head)
    ? { text: stacktrace.slice(head.length), isHeadCut: true }
    : { text: stacktrace, isHeadCut: false }
}

/** The columns in which an occurrence's exception is stored. */
export interface StoredException {
  message: string
  attributes: string
  stacktrace: string
  is_head_cut: number
}

/** The exception as it was received: attributes with the message, and the whole trace. The reverse of what the intake stores. */
export function restoreException(row: StoredException): {
  attributes: Record<string, unknown>
  type: string
  message: string
  stacktrace: string
} {
  const attributes: Record<string, unknown> = {
    'exception.message': row.message,
    ...(JSON.parse(row.attributes) as Record<string, unknown>),
  }
  const type = String(attributes['exception.type'] ?? '')
  const message = String(attributes['exception.message'] ?? '') || row.message
  return { attributes, type, message, stacktrace: row.is_head_cut === 1 ? `${type}: ${message}${row.stacktrace}` : row.stacktrace }
}

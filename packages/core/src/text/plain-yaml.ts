import { isNode, LineCounter, parseDocument } from 'yaml'

const TEXT_MAX = 50_000

/** A file of YAML as plain values, or why it is none. Lines count from 1. */
export type PlainYaml =
  | {
      plain: unknown
      /** The line at which a value, or the nearest thing around it, stands. */
      lineOf: (path: readonly PropertyKey[]) => number | null
    }
  | { why: string; line: number | null }

/** Reads a small file of YAML 1.2. Nothing in it is carried out; references within it are not followed, so that nothing grows. */
export function parsePlainYaml(text: string): PlainYaml {
  if (text.length > TEXT_MAX) return { why: `it is longer than ${TEXT_MAX} characters`, line: null }
  const lines = new LineCounter()
  const document = documentOf(text, lines)
  const [error] = document?.errors ?? []
  // The reader goes down into each thing that stands in another, and tells of the end of its room in two ways.
  if (document === null || error?.message.startsWith('Maximum call stack')) return { why: 'it is nested too deep', line: null }
  if (error) return { why: error.message.split('\n')[0]?.replace(/:$/, '') ?? 'it is no YAML', line: lines.linePos(error.pos[0]).line }
  try {
    return {
      plain: document.toJS({ maxAliasCount: 0 }),
      lineOf: (path) => {
        for (let length = path.length; length > 0; length--) {
          const node = document.getIn(path.slice(0, length), true)
          if (isNode(node) && node.range) return lines.linePos(node.range[0]).line
        }
        return null
      },
    }
  } catch (thrown) {
    // What is refused while it becomes plain: references, mostly.
    return { why: thrown instanceof Error ? thrown.message : 'it is no YAML', line: null }
  }
}

/** Null where one thing stands in the other so often that the reader runs out of room. */
function documentOf(text: string, lineCounter: LineCounter) {
  try {
    return parseDocument(text, { version: '1.2', schema: 'core', merge: false, lineCounter })
  } catch (thrown) {
    if (thrown instanceof RangeError) return null
    throw thrown
  }
}

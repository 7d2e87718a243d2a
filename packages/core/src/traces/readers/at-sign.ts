import type { TraceReader } from '../trace.js'
import { aFrame, anException, splitHead, splitPosition } from './frame.js'
import { isAppScript, withoutScheme } from './v8.js'

const FRAME = /^(?:(async|promise callback|setTimeout handler)\*)?([^@\n]{0,300})@(.*)$/

/**
 * Stack traces of SpiderMonkey (Firefox) and JavaScriptCore (Safari): `function@file:line:column`, innermost first, often without a head.
 */
export const atSignReader: TraceReader = {
  language: 'javascript',
  recognises: (line) =>
    /^\s*(?:\w[\w ]*\*)?[^@\s]*@(?:https?|file|webpack|blob|resource|chrome|capacitor|app):?.*:\d+(?::\d+)?$/.test(line) ||
    /^[^@\s]+@\[native code\]$/.test(line),
  read: (lines) => {
    const frames = lines.flatMap((line) => {
      const match = FRAME.exec(line.trimStart())
      if (!match?.[3]) return []
      const position = splitPosition(match[3]) ?? { file: match[3], line: null, column: null }
      // Code made at run time names the script that made it, and where it stands in itself: `file line 3 > eval:1:2`.
      const isMade = / > (?:eval|Function)/.test(position.file)
      const file = withoutScheme(position.file.replace(/ line \d+ > .*$/, ''))
      const name = (match[2] ?? '').replace(/\/(?:this\.)?[^/]*<$|\/<$|<$/g, '').replace(/^(?:global|eval|module) code$/, '')
      return aFrame({
        function: name || null,
        file,
        line: position.line,
        column: position.column,
        isApp: !isMade && isAppScript(file),
        isAsync: match[1] !== undefined,
      })
    })
    if (frames.length === 0) return null
    const first = lines.findIndex((line) => FRAME.test(line.trimStart()))
    return anException({ ...splitHead(lines.slice(0, first).join('\n')), frames })
  },
}

import type { TraceReader } from '../trace.js'
import { aFrame, anException, numberOf, splitHead } from './frame.js'
import { isAppScript, withoutScheme } from './v8.js'

const FRAME = /^\s*(?:(async|promise callback|setTimeout handler)\*)?([^@\n]{0,300})@(.*?)(?::(\d+))?(?::(\d+))?$/

/** Stack traces of SpiderMonkey (Firefox) and JavaScriptCore (Safari): `function@file:line:column`, innermost first, often without a head. */
export const atSignReader: TraceReader = {
  language: 'javascript',
  recognises: (line) =>
    /^\s*(?:\w[\w ]*\*)?[^@\s]*@(?:https?|file|webpack|blob|resource|chrome|capacitor|app):?.*:\d+(?::\d+)?$/.test(line) ||
    /^[^@\s]+@\[native code\]$/.test(line),
  read: (lines) => {
    const frames = lines.flatMap((line) => {
      const match = FRAME.exec(line)
      if (!match?.[3]) return []
      // Code made at run time names the script that made it, and where it stands in itself: `file line 3 > eval:1:2`.
      const isMade = / > (?:eval|Function)/.test(match[3])
      const file = withoutScheme(match[3].replace(/ line \d+ > .*$/, ''))
      const name = (match[2] ?? '').replace(/\/(?:this\.)?[^/]*<$|\/<$|<$/g, '').replace(/^(?:global|eval|module) code$/, '')
      return aFrame({
        function: name || null,
        file,
        line: numberOf(match[4]),
        column: numberOf(match[5]),
        isApp: !isMade && isAppScript(file),
        isAsync: match[1] !== undefined,
      })
    })
    if (frames.length === 0) return null
    const first = lines.findIndex((line) => FRAME.test(line))
    return anException({ ...splitHead(lines.slice(0, first).join('\n')), frames })
  },
}

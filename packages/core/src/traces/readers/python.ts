import type { Frame, TraceException, TraceReader } from '../trace.js'
import { aFrame, anException, numberOf } from './frame.js'

const START = /^\s*(?:\+ )?(?:Exception Group )?Traceback \(most recent call last\):$/
const FRAME = /^\s*File "([^"]*)", line (\d+)(?:, in (.*))?$/
const HEAD = /^([A-Za-z_][\w.]*)(?::\s?(.*))?$/
const MEMBER = /^\s*\+(?:-\+)?-{3,} (\d+|\.\.\.) -+$/
const END_OF_MEMBERS = /^\s*\+-{6,}$/
const JOIN = /^The above exception was the direct cause|^During handling of the above exception/
const DEPTH_MAX = 20

/** Tracebacks of Python 2.7 to 3: outermost call first, chained exceptions with the oldest first, groups with a margin of bars. */
export const pythonReader: TraceReader = {
  language: 'python',
  recognises: (line) => line.includes('Traceback (most') && START.test(line.replace(/^[\s|]*/, '')),
  read: (lines) => readChain(lines, 0),
}

const isStart = (line: string): boolean => line.includes('Traceback (most') && START.test(line)

/** The newest exception of a chain; each older one is its cause. */
function readChain(lines: readonly string[], depth: number): TraceException | null {
  let newest: TraceException | null = null
  for (const { lines: part, isContext } of partsOf(lines)) {
    const exception = readOne(part, depth)
    if (exception) newest = { ...exception, cause: newest, ...(newest !== null && isContext ? { isContext } : {}) }
  }
  return newest
}

/** The lines between the sentences that join a chain, each without the margin of its own group. */
function partsOf(lines: readonly string[]): { lines: string[]; isContext: boolean }[] {
  const margin = /^\s*\+ Exception Group/.test(lines.find((line) => line.trim() !== '') ?? '') ? /^ {0,4}[|+] ?/ : null
  const parts: { lines: string[]; isContext: boolean }[] = [{ lines: [], isContext: false }]
  let isInMembers = false
  let membersIndent = 0
  for (const raw of lines) {
    // Members stand deeper: their own margin is left to them.
    const isDashes = raw.includes('---')
    if (isDashes && !isInMembers && MEMBER.test(raw)) {
      isInMembers = true
      membersIndent = indentOf(raw)
    }
    const line = margin && !isInMembers ? raw.replace(margin, '') : raw
    if (isDashes && indentOf(raw) <= membersIndent + 2 && END_OF_MEMBERS.test(raw)) isInMembers = false
    if (!isInMembers && raw.includes(' exception') && JOIN.test(line.replace(/^[\s|]*/, '')))
      parts.push({ lines: [], isContext: /During handling/.test(line) })
    else parts.at(-1)?.lines.push(line)
  }
  return parts
}

function readOne(lines: readonly string[], depth: number): TraceException | null {
  const start = lines.findIndex(isStart)
  if (start < 0) return null
  const frames: Frame[] = []
  let hiddenFrames = 0
  let at = start + 1
  for (; at < lines.length; at++) {
    const line = lines[at] ?? ''
    const frame = line.includes('File "') ? FRAME.exec(line) : null
    if (frame) {
      // The place of a mistake of syntax is no call.
      if (frame[3] !== undefined) frames.push(readFrame(frame, lines[at + 1]))
      continue
    }
    const repeated = line.includes('[Previous') && /^\s*\[Previous line repeated (\d+) more times?\]$/.exec(line)
    if (repeated) hiddenFrames += numberOf(repeated[1]) ?? 0
    if (line !== '' && line[0] !== ' ' && line[0] !== '\t') break
  }
  const head = HEAD.exec((lines[at] ?? '').trim())
  const members = lines.findIndex((line) => line.includes('---') && MEMBER.test(line))
  const messageEnd = members < 0 ? lines.length : members
  const message = [head?.[2] ?? '', ...lines.slice(at + 1, messageEnd)].join('\n').trim()
  return anException({
    type: head?.[1] ?? '',
    message: head ? message : (lines[at] ?? '').trim(),
    frames: frames.reverse(),
    ...(hiddenFrames > 0 && { hiddenFrames }),
    ...(members >= 0 && depth < DEPTH_MAX && { members: readMembers(lines.slice(members), depth + 1) }),
    ...threadOf(lines.slice(0, start)),
  })
}

function threadOf(before: readonly string[]): { thread?: string } {
  const name = /^Exception in thread ([^:]+?)(?: \(most likely raised.*)?:$/.exec(
    before.findLast((line) => line.trim() !== '')?.trim() ?? '',
  )?.[1]
  return name === undefined ? {} : { thread: name }
}

const indentOf = (line: string): number => line.length - line.trimStart().length

/**
 * Members of a group: between lines of dashes at one margin; all of theirs stands behind a bar at the same margin, their own members one
 * step further in.
 */
function readMembers(lines: readonly string[], depth: number): TraceException[] {
  const inner = indentOf(lines[0] ?? '') + 2
  const bar = `${' '.repeat(inner)}|`
  const members: string[][] = [[]]
  for (const line of lines.slice(1)) {
    const isOurs = line.includes('---') && indentOf(line) === inner
    if (isOurs && END_OF_MEMBERS.test(line)) break
    if (isOurs && MEMBER.test(line) && !line.includes('+-+')) members.push([])
    else members.at(-1)?.push(line.startsWith(bar) ? line.slice(bar.length + 1) : line.slice(2))
  }
  return members.slice(0, 50).flatMap((member) => readChain(member, depth) ?? readBare(member))
}

/** A member that was never raised has no traceback, only its type and message. */
function readBare(lines: readonly string[]): TraceException | [] {
  const head = HEAD.exec(
    lines
      .find((line) => line.trim() !== '')
      ?.replace(/^[\s|+]*/, '')
      .trim() ?? '',
  )
  return head ? anException({ type: head[1] ?? '', message: head[2] ?? '' }) : []
}

function readFrame(match: RegExpExecArray, next: string | undefined): Frame {
  const [, file = '', line = '', name = ''] = match
  const below = next?.startsWith('  ') ? next.trim() : ''
  const source = below !== '' && !below.startsWith('File "') && !/^[~^]+$/.test(below) ? below : undefined
  return aFrame({ function: name || null, file, line: numberOf(line), isApp: isAppFile(file), ...(source && { source }) })
}

function isAppFile(file: string): boolean {
  return !(
    file.startsWith('<') ||
    /(?:^|[\\/])(?:site-packages|dist-packages)[\\/]/.test(file) ||
    /[\\/]lib(?:64)?[\\/]python\d(?:\.\d+)?[\\/]/.test(file) ||
    /[\\/]Python\d+[\\/]lib[\\/]/i.test(file)
  )
}

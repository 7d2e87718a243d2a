import type { CaseStep } from './wire.js'

/**
 * Steps as lines of text: `what is done => what is expected`, each on a line of its own; a line that begins
 * with two blanks goes on the line before. The same text gives the same steps.
 *
 * @example parseSteps('Open the lid => The heater stops') // [{ do: 'Open the lid', expect: 'The heater stops' }]
 */
export function parseSteps(text: string): CaseStep[] {
  const lines: string[] = []
  for (const line of text.split('\n')) {
    const last = lines.length - 1
    if (/^ {2,}\S/.test(line) && last >= 0) lines[last] += `\n${line.trim()}`
    else if (line.trim() !== '') lines.push(line.trim())
  }
  return lines.map((line) => {
    const [done = '', ...expected] = line
      .replace(/^\d+[.)]\s+/, '')
      .split('=>')
      .map((part) => part.trim())
    return { do: done, expect: expected.join(' => ').trim() }
  })
}

/** Steps as `parseSteps` reads them. */
export function printSteps(steps: readonly CaseStep[]): string {
  return steps.map((step) => `${indent(step.do)}${step.expect === '' ? '' : ` => ${indent(step.expect)}`}`).join('\n')
}

function indent(text: string): string {
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '')
    .join('\n  ')
}

/** Keys out of a line of words, parted by blanks, commas or semicolons. */
export function parseKeys(text: string): string[] {
  return text.split(/[\s,;]+/).filter((key) => key !== '')
}

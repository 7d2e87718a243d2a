import { explainedIn, findContradictions, findWriting } from '@dystracer/core/requirements/writing'
import { readLines, type Say } from './eval.js'

/** For each text what may be wrong with how it is written: rule, words, place. All texts are one document. */
export function evalWriting(path: string, say: Say): void {
  const rows = readLines<{ id: string; text: string }>(path)
  const explained = explainedIn(rows.map(({ text }) => text))
  const contradictions = findContradictions(rows.map(({ id, text }) => ({ key: id, text })))
  for (const { id, text } of rows)
    say(JSON.stringify({ id, findings: [...findWriting(text, explained), ...(contradictions.get(id) ?? [])] }))
}

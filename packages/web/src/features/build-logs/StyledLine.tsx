import Anser from 'anser'
import { useMemo } from 'react'

/** The colours of a terminal in those of our paper: what warns stays a warning in light and dark. */
const COLOUR: Record<string, string> = {
  'ansi-red': 'text-fault',
  'ansi-bright-red': 'text-fault',
  'ansi-green': 'text-proof',
  'ansi-bright-green': 'text-proof',
  'ansi-yellow': 'text-ochre',
  'ansi-bright-yellow': 'text-ochre',
  'ansi-blue': 'text-ink-2',
  'ansi-bright-blue': 'text-ink-2',
  'ansi-magenta': 'text-ink-2',
  'ansi-bright-magenta': 'text-ink-2',
  'ansi-cyan': 'text-ink-2',
  'ansi-bright-cyan': 'text-ink-2',
  'ansi-bright-black': 'text-ink-3',
}
const DECORATION: Record<string, string> = { bold: 'font-bold', dim: 'text-ink-3', italic: 'italic', underline: 'underline' }

/** A line as a program coloured it for a terminal; colours end with the line. */
export function StyledLine({ text }: { text: string }) {
  const runs = useMemo(() => (text.includes('\u001b') ? Anser.ansiToJson(text, { use_classes: true, remove_empty: true }) : null), [text])
  if (!runs) return text
  let at = 0
  return runs.map((run) => {
    const from = at
    at += run.content.length
    const look = [COLOUR[run.fg ?? ''], ...run.decorations.map((one) => DECORATION[one])].filter(Boolean).join(' ')
    return (
      <span key={from} className={look}>
        {run.content}
      </span>
    )
  })
}

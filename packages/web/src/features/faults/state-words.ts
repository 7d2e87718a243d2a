import type { Fault } from '@dystracer/core/faults/wire'
import type { FaultState } from '@dystracer/core/faults/fault-state'
import { fullDate, plural } from '#shared/lib/format'

/** How a fault stands, in a word. */
export const STATE_WORD: Record<FaultState, string> = {
  'came-back': 'came back',
  spike: 'spike',
  new: 'new',
  returned: 'returned',
  continuing: 'continuing',
  quiet: 'quiet',
  fixed: 'said fixed',
  silenced: 'silenced',
  'not-ours': 'not ours',
}
/** Which of them need eyes, by colour; the others are told in plain ink. */
export const STATE_TONE: Partial<Record<FaultState, string>> = {
  'came-back': 'text-fault',
  spike: 'text-fault',
  new: 'text-ochre',
  returned: 'text-ochre',
}

/** The sentence behind the word, with its numbers. */
export function stateSentence(fault: Fault): string {
  const { state, spike, silence, judgement } = fault
  switch (state) {
    case 'came-back':
      return judgement?.kind === 'fixed'
        ? `It was said to be fixed in ${judgement.release}, and was seen in that release or a later one.`
        : 'Its item was fixed, and a release with the fix still has it.'
    case 'spike':
      return (
        `${spike?.seen} times in an hour that usually has ` +
        `${spike?.expected}; from ${spike?.from} on that stands out (held against ${plural(spike?.hours ?? 0, 'hour')}).`
      )
    case 'new':
      return 'First seen within the last day.'
    case 'returned':
      return 'Seen again after more than a week of silence.'
    case 'continuing':
      return 'It goes on as it did.'
    case 'quiet':
      return 'Not seen for more than a week.'
    case 'fixed':
      return (
        `Said to be fixed in ${judgement?.release}${judgement?.reason ? `: ${judgement.reason}` : ''}. Should that ` +
        `release or a later one have it, it has come back.`
      )
    case 'not-ours':
      return `Said not to be ours: ${judgement?.reason}`
    case 'silenced':
      return silence ? silenceSentence(silence) : ''
  }
}

function silenceSentence(silence: NonNullable<Fault['silence']>): string {
  const ends = [
    silence.untilMs !== null && `until ${fullDate(silence.untilMs)}`,
    silence.moreTimes !== null && `until it occurred ${plural(silence.moreTimes, 'time')} more`,
    silence.release !== null && `until ${silence.release} or a later release has it`,
    silence.untilSpike && 'until it spikes',
  ].filter(Boolean)
  return `Silenced ${
    ends.length > 0 ? ends.join(', or ') : 'until somebody lets it be heard again'
  }${silence.reason ? `: ${silence.reason}` : '.'}`
}

/** Severity numbers of the OpenTelemetry log data model. */
export const severityWord = (number: number): string =>
  number < 1 ? 'severity not told' : (['trace', 'debug', 'info', 'warning', 'error', 'fatal'][Math.floor((number - 1) / 4)] ?? 'fatal')

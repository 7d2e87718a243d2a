import { plural } from '#text/plural'
import type { GateCode, MergeGate } from './gates.js'

type NameOf = (personId: string) => string

/** A gate as a sentence with its reason, for whoever reads the change here or at its code host. */
export function gateInWords(gate: MergeGate, nameOf: NameOf): string {
  return WORDS[gate.code](gate, nameOf)
}

function saidBy(personIds: readonly string[], nameOf: NameOf, one: string, several: string): string {
  return `${personIds.map((personId) => nameOf(personId)).join(' and ')} ${personIds.length === 1 ? one : several}`
}

const WORDS: Record<GateCode, (gate: MergeGate, nameOf: NameOf) => string> = {
  build: ({ isMet, words }) => (isMet ? 'Nothing that is built of it is broken' : (words ?? 'Its newest commit is not built yet')),
  agreements: ({ isMet, has, needs, personIds }, nameOf) =>
    isMet ? saidBy(personIds, nameOf, 'agrees', 'agree') : `${has} of ${plural(needs, 'person', 'people')} who wrote none of it agree`,
  'no-objection': ({ personIds }, nameOf) => saidBy(personIds, nameOf, 'asks for changes', 'ask for changes'),
  settled: ({ isMet, has }) => (isMet ? 'Every remark is settled' : `${plural(has, 'remark')} not settled`),
  item: ({ isMet }) => (isMet ? 'An item is tied' : 'No item is tied: nothing says why'),
  file: ({ words }) => words ?? 'The file of gates cannot be read',
  draft: () => 'It is a draft: whoever works on it says when it is ready',
  owners: ({ isMet, words, needs, personIds }, nameOf) =>
    needs === 0
      ? 'Nobody looks after its files by name'
      : isMet
        ? 'Those who look after its files agree'
        : `${personIds.map((personId) => nameOf(personId)).join(' or ')} looks after ${words ?? 'its files'}, and has to agree`,
  requirement: ({ isMet }) => (isMet ? 'A requirement asks for it' : 'No requirement asks for it: tie one to its item'),
  suspects: ({ isMet, has }) =>
    isMet
      ? 'No tie to a requirement waits to be looked at'
      : `${plural(has, 'tie')} to requirements ${has === 1 ? 'waits' : 'wait'} to be looked at again`,
  time: ({ isMet }) => (isMet ? 'Time is logged for it' : 'No time is logged for its items'),
  findings: ({ isMet, has }) => (isMet ? 'It brings no new finding' : `${plural(has, 'finding')} ${has === 1 ? 'is' : 'are'} new with it`),
  coverage: ({ isMet, words, has, needs }) =>
    words ?? `Tests run ${has} of a hundred lines that it brings${isMet ? '' : `; ${needs} are asked for`}`,
  quality: ({ isMet, words }) =>
    `${isMet ? 'It keeps to the quality that is asked for' : 'Beyond the quality that is asked for'}: ${words ?? ''}`,
  main: ({ isMet, words }) =>
    isMet ? 'The line that it goes to is sound' : `${words ?? 'The line that it goes to is broken'}: mend that first`,
  hours: ({ words }) => `It may be merged ${words ?? ''}`,
  queue: ({ words }) => words ?? 'It is built on top of those before it once somebody wants it merged',
}

/** What a change in the row is merged with to see: the base, and those that stand before it. */
export function baseAndAhead(base: string, ahead: readonly number[]): string {
  return ahead.length === 0 ? base : `${base} and ${ahead.join(', ')}`
}

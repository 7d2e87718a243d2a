import type { PlaceGate } from '@dystracer/core/places/gates'

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
/** Days of the week as they are chosen; 1 is Monday. */
export const DAY_CHOICES = DAYS.map((label, at) => ({ value: at + 1, label }))

/** What each kind of gate asks for, where it is chosen. */
export const KIND_WORDS: Record<PlaceGate['kind'], string> = {
  soak: 'it ran in the place before it for a while',
  build: 'the newest build of its commit passed',
  severity: 'nothing severe is open',
  agreed: 'people agreed who did not write it',
  window: 'it is a good time',
  freeze: 'it is no day of a freeze',
  check: 'somebody looked',
}

/** A gate as it is set, in a sentence. */
export function gateSentence(gate: PlaceGate, nameOf: (id: string) => string): string {
  switch (gate.kind) {
    case 'soak':
      return [
        `ran ${gate.hours} h in the place before it`,
        gate.units > 0 && `did ${gate.units} pieces of work there`,
        'failed in no new way',
      ]
        .filter(Boolean)
        .join(', ')
    case 'build':
      return 'the newest build of its commit passed'
    case 'severity':
      return gate.atLeast === 1 ? 'nothing of severity 1 is open' : `nothing of severity 1 to ${gate.atLeast} is open`
    case 'agreed': {
      const among = gate.among.length > 0 ? ` of ${gate.among.map(nameOf).join(', ')}` : ''
      return `${gate.people}${among} agreed, none of whom wrote part of it`
    }
    case 'window':
      return `${gate.days.map((day) => DAYS[day - 1]).join(', ')} from ${gate.from} to ${gate.to}, ${gate.timeZone}`
    case 'freeze':
      return `not from ${gate.from} to ${gate.to}${gate.why === '' ? '' : `: ${gate.why}`}`
    case 'check':
      return `somebody looked: ${gate.words}`
  }
}

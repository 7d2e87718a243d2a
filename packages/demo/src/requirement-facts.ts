import type { Attributes } from '@dystracer/core/requirements/attributes'

/** What Emberwick says of its requirements beside their text. */
export const REQUIREMENT_FACTS: Readonly<Record<string, Attributes>> = {
  'SAF-2': {
    Rationale: 'A welded relay heated an unattended kiln to 1340 °C. The schedule cannot be what stops it.',
    Acceptance:
      '- the contactor opens **within 5 s** of 15 °C above the limit\n- it stays open until somebody is at the panel\n' +
      '- it does so while the schedule hangs',
    Source: 'hazard analysis 2025, hazard 3',
    Kind: 'constraint',
    Priority: 'must',
    Risk: 'high',
    Owner: 'Ines Okafor',
  },
  'SAF-3': {
    Rationale: 'An open thermocouple reads cold, and a controller that believes it heats on.',
    Acceptance: '- open, shorted and reversed probes, each **within 10 s**\n- heat comes back only by a technician',
    Source: 'hazard analysis 2025, hazard 1',
    Kind: 'functional',
    Priority: 'must',
    Risk: 'high',
  },
  'SAF-5': {
    Rationale: 'A load that cools for longer than twenty minutes is lost; firing it on wastes energy and may crack shelves.',
    Kind: 'functional',
    Priority: 'must',
    Risk: 'middle',
  },
  'SAF-6': {
    Rationale: 'Relays weld after some 100,000 operations.',
    Source: 'data sheet of the relays',
    Kind: 'functional',
    Priority: 'must',
    Risk: 'high',
  },
  'SAF-7': { Source: 'insurer, letter of 2024-06-03', Kind: 'constraint', Priority: 'must', Risk: 'high' },
  'SAF-8': {
    Acceptance: '| zones | above 600 °C | above 1000 °C |\n| - | - | - |\n| 2 | 8 °C | 8 °C |\n| 3 | 8 °C | 6 °C, wished |',
    Kind: 'quality',
    Priority: 'should',
    Risk: 'low',
  },
  'SAF-11': { Kind: 'interface', Priority: 'should', Risk: 'low' },
  'PLN-1': { Rationale: 'Glazes need the heat work, not the hour.', Kind: 'functional', Priority: 'must' },
  'PLN-8': {
    Rationale: 'The auditors of the food-safe label ask for seven years.',
    Source: 'label rules, section 4',
    Kind: 'constraint',
    Priority: 'must',
  },
  'GLZ-4': { Source: 'members’ assembly 2025', Kind: 'constraint', Priority: 'must', Risk: 'high' },
  'BKG-12': { Source: 'law on access', Kind: 'quality', Priority: 'must' },
}

/** Which of them refines which, and why. */
export const REFINEMENTS: readonly { from: string; to: string; words: string }[] = [
  { from: 'SAF-6', to: 'SAF-2', words: 'A limiter acts through a contactor that can fail, too.' },
  { from: 'SAF-3', to: 'SAF-2', words: '' },
  { from: 'PLN-12', to: 'PLN-7', words: 'A gap in the network is no gap in the record.' },
  { from: 'BKG-17', to: 'BKG-16', words: '' },
]

export interface DemoPerson {
  personId: string
  name: string
  initials: string
  role: 'reader' | 'member' | 'lead' | 'admin'
}

/** Who works at Emberwick; all made up. Their password in the demo is their id followed by "-emberwick". */
export const PEOPLE: DemoPerson[] = [
  { personId: 'ines', name: 'Ines Okafor', initials: 'IO', role: 'lead' },
  { personId: 'rafe', name: 'Rafe Varga', initials: 'RV', role: 'member' },
  { personId: 'tam', name: 'Tam Adeyemi', initials: 'TA', role: 'member' },
  { personId: 'mara', name: 'Mara Lindqvist', initials: 'ML', role: 'member' },
  { personId: 'noor', name: 'Noor Castell', initials: 'NC', role: 'member' },
  { personId: 'teo', name: 'Teo Marsh', initials: 'TM', role: 'admin' },
  { personId: 'wren', name: 'Wren Aldous', initials: 'WA', role: 'reader' },
]
export const COMMITTERS = PEOPLE.slice(0, 6)

export function emailOf(personId: string): string {
  return `${personId}@emberwick.example`
}

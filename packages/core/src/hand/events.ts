/** The journal's events of hand and their bodies. */
export interface HandEvents {
  'taken-in-hand': { personId: string; key: string; branch: string | null }
  parked: { personId: string; key: string; branch: string | null }
  'put-down': { personId: string; key: string }
  'hand-time-booked': { personId: string; key: string; coveredMs: number }
}

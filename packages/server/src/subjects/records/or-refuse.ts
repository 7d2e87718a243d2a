import { Problem } from '@dystracer/core/basics/problem'
import type { BulkDone } from '@dystracer/core/items/wire'

export function orRefuse(refused: BulkDone['refused'], key: string, act: () => void): void {
  try {
    act()
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    refused.push({ key, why: [error.message, ...Object.values(error.fields ?? {})].join(' ') })
  }
}

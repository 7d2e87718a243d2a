import { z } from 'zod'

export const zBulkUndo = z.strictObject({ seqs: z.array(z.number().int().positive()).min(1).max(5000) })
export const zUndo = z.strictObject({ seq: z.number().int().optional() })
export const zUndone = z.object({ key: z.string(), said: z.string() })

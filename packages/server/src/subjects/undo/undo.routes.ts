import type { Api } from '#platform/http/api'
import { undoMany } from './bulk-undo.commands.js'
import { undo } from './undo.commands.js'
import { undoOperations } from '@dystracer/core/undo/wire'

export function addUndoRoutes(api: Api): void {
  api.handle(undoOperations.undoMany, ({ ctx, who, body }) => undoMany(ctx, who, body.seqs))
  api.handle(undoOperations.undo, ({ ctx, who, body }) => undo(ctx, who, body.seq))
}

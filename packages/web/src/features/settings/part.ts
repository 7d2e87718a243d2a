import type { ProjectSetup } from '@dystracer/core/setup/wire'
import type { SetupPart } from '#shared/lib/api'

export type Save = (what: SetupPart, body: object, said: string) => Promise<boolean>
export type Remove = (what: 'types' | 'fields' | 'milestones', name: string, said: string) => Promise<void>

/** What each part of the settings is given. */
export interface Part {
  setup: ProjectSetup
  canEdit: boolean
  save: Save
  remove: Remove
}

/** Words with commas as a list, without the empty ones. */
export const splitWords = (text: string): string[] =>
  text
    .split(',')
    .map((word) => word.trim())
    .filter(Boolean)

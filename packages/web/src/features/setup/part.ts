import type { ProjectSetup } from '@dystracer/core/setup/wire'
import type { Body } from '#shared/lib/api'
import type { SetupChange, SetupThing } from './setup.api'

/** Changes one part of the set-up by its operation; true when it is saved. */
export type Save = <Name extends SetupChange['what']>(what: Name, body: Body<Name>, said: string) => Promise<boolean>
export type Remove = (what: SetupThing, name: string, said: string) => Promise<void>

/** What each part of the settings is given. */
export interface Part {
  setup: ProjectSetup
  canEdit: boolean
  save: Save
  remove: Remove
}

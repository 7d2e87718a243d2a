import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { problemText } from '#shared/lib/problem-text'
import type { Part, Remove, Save } from './part'
import { type SetupChange, useChangeSetupMutation, useRemoveFromSetupMutation } from './setup.api'

/** What every part of the set-up needs: whether it may be changed, and how; what came of it is said. */
export function useSetupPart(project: string): Omit<Part, 'setup'> {
  const { may } = usePeople()
  const [change] = useChangeSetupMutation()
  const [takeOff] = useRemoveFromSetupMutation()
  const save: Save = async (what, body, said) => {
    const result = await change({ project, what, body } as SetupChange & { project: string })
    if (result.error) toast.error(problemText(result.error))
    else toast.success(said)
    return !result.error
  }
  const remove: Remove = async (what, name, said) => {
    const result = await takeOff({ project, what, name })
    if (result.error) toast.error(problemText(result.error))
    else toast.success(said)
  }
  return { canEdit: may('setup.change'), save, remove }
}
